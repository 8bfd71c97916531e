import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import type { MeetingPattern, Passage, Reason, Strip, StripKind } from "../../core/plan";
import type { Terms } from "../../core/practice";
import {
  columns,
  day,
  decimal,
  flag,
  instant,
  json,
  key,
  optionalDay,
  optionalInstant,
  optionalJson,
  optionalRef,
  optionalText,
  optionalWhole,
  ref,
  text,
  whole,
} from "./definitions";

export class TermRow extends Model<InferAttributes<TermRow>, InferCreationAttributes<TermRow>> {
  declare id: string;
  declare bandId: string;
  declare name: string;
  declare fromDate: string;
  declare toDate: string;
}

/** A school day that ends early. */
export class SchoolDayRow extends Model<
  InferAttributes<SchoolDayRow>,
  InferCreationAttributes<SchoolDayRow>
> {
  declare bandId: string;
  declare date: string;
  declare endsAt: string;
  declare name: string;
}

export class MeetingRow extends Model<InferAttributes<MeetingRow>, InferCreationAttributes<MeetingRow>> {
  declare id: string;
  declare bandId: string;
  declare groupId: string;
  declare pattern: MeetingPattern;
  declare fromDate: string;
  declare toDate: string | null;
  declare startsAt: string;
  declare minutes: number;
}

export class MeetingChangeRow extends Model<
  InferAttributes<MeetingChangeRow>,
  InferCreationAttributes<MeetingChangeRow>
> {
  declare meetingId: string;
  declare bandId: string;
  declare date: string;
  declare kind: "cancelled" | "moved" | "extra";
  declare toDate: string | null;
  declare startsAt: string | null;
  declare minutes: number | null;
  declare name: string;
}

/** One thing of a programme: what, who plays it, and what is said before it. */
export interface ProgrammeEntry {
  kind: "line" | "piece";
  refId: string;
  /** Whoever the concert is for when null. */
  groupId: string | null;
  spoken: string;
}

export class GoalRow extends Model<InferAttributes<GoalRow>, InferCreationAttributes<GoalRow>> {
  declare id: string;
  declare bandId: string;
  declare kind: "concert" | "test";
  declare name: string;
  declare date: string;
  declare groupId: string | null;
  declare programme: ProgrammeEntry[];
}

export class StripRow extends Model<InferAttributes<StripRow>, InferCreationAttributes<StripRow>> {
  declare id: string;
  declare bandId: string;
  declare groupId: string;
  declare atHome: boolean;
  declare instrumentId: string | null;
  declare playerId: string | null;
  declare date: string;
  declare place: number;
  declare kind: StripKind;
  declare refId: string | null;
  declare title: string;
  declare minutes: number;
  declare firstBar: number | null;
  declare lastBar: number | null;
  declare note: string;
  declare reason: Reason | null;
  declare assignmentId: CreationOptional<string | null>;
  declare terms: CreationOptional<Terms | null>;
  /** On the stands without a task of its own. */
  declare givenAt: CreationOptional<Date | null>;
  /** The class did not get to it. */
  declare notReached: CreationOptional<boolean>;
  declare version: number;
  declare removedAt: CreationOptional<Date | null>;
}

/** A player who missed a class. */
export class Absence extends Model<InferAttributes<Absence>, InferCreationAttributes<Absence>> {
  declare bandId: string;
  declare groupId: string;
  declare date: string;
  declare playerId: string;
}

/** A player who misses a class of every week, because something else is at that time. */
export class Clash extends Model<InferAttributes<Clash>, InferCreationAttributes<Clash>> {
  declare bandId: string;
  declare groupId: string;
  declare playerId: string;
  /** 1 is Monday. */
  declare weekday: number;
  declare reason: string;
}

/** A proposal a director does not want again. */
export class PieceRow extends Model<InferAttributes<PieceRow>, InferCreationAttributes<PieceRow>> {
  declare id: string;
  declare bandId: string;
  declare title: string;
  declare composer: string;
  declare bars: number;
  declare bpm: number | null;
  /** Its parts on the shelf. */
  declare lineId: string | null;
  declare passages: Passage[];
  declare version: number;
  declare removedAt: CreationOptional<Date | null>;
}

/** A sheet or something to listen to. */
export class Handout extends Model<InferAttributes<Handout>, InferCreationAttributes<Handout>> {
  declare id: string;
  declare bandId: string;
  declare kind: "worksheet" | "listening";
  declare title: string;
  declare mediaId: string | null;
  declare address: string | null;
  declare removedAt: CreationOptional<Date | null>;
}

/** A week kept by name, to be copied into others. */
export class WeekTemplate extends Model<
  InferAttributes<WeekTemplate>,
  InferCreationAttributes<WeekTemplate>
> {
  declare id: string;
  declare bandId: string;
  declare name: string;
  declare monday: string;
  declare strips: Strip[];
  declare removedAt: CreationOptional<Date | null>;
}

/** A player ticked off what stands on a day. */
export class StripTick extends Model<InferAttributes<StripTick>, InferCreationAttributes<StripTick>> {
  declare stripId: string;
  declare playerId: string;
  declare bandId: string;
  declare doneAt: Date;
}

export class TurnedDown extends Model<InferAttributes<TurnedDown>, InferCreationAttributes<TurnedDown>> {
  declare bandId: string;
  declare groupId: string;
  declare proposal: string;
  declare said: string;
  declare createdAt: Date;
}

export function definePlanning(sequelize: Sequelize) {
  TermRow.init(columns({ id: key, bandId: ref, name: text, fromDate: day, toDate: day }), {
    sequelize,
    tableName: "terms",
  });
  SchoolDayRow.init(
    columns({
      bandId: { ...ref, primaryKey: true },
      date: { ...day, primaryKey: true },
      endsAt: text,
      name: text,
    }),
    { sequelize, tableName: "school_days" },
  );
  MeetingRow.init(
    columns({
      id: key,
      bandId: ref,
      groupId: ref,
      pattern: json,
      fromDate: day,
      toDate: optionalDay,
      startsAt: text,
      minutes: whole,
    }),
    { sequelize, tableName: "meetings" },
  );
  MeetingChangeRow.init(
    columns({
      meetingId: { ...ref, primaryKey: true },
      bandId: ref,
      date: { ...day, primaryKey: true },
      kind: text,
      toDate: optionalDay,
      startsAt: optionalText,
      minutes: optionalWhole,
      name: text,
    }),
    { sequelize, tableName: "meeting_changes" },
  );
  GoalRow.init(
    columns({
      id: key,
      bandId: ref,
      kind: text,
      name: text,
      date: day,
      groupId: optionalRef,
      programme: json,
    }),
    { sequelize, tableName: "goals" },
  );
  StripRow.init(
    columns({
      id: key,
      bandId: ref,
      groupId: ref,
      atHome: flag,
      instrumentId: optionalText,
      playerId: optionalRef,
      date: day,
      place: decimal,
      kind: text,
      refId: optionalRef,
      title: text,
      minutes: whole,
      firstBar: optionalWhole,
      lastBar: optionalWhole,
      note: text,
      reason: optionalJson,
      assignmentId: optionalRef,
      terms: optionalJson,
      givenAt: optionalInstant,
      notReached: { ...flag, defaultValue: false },
      version: whole,
      removedAt: optionalInstant,
    }),
    { sequelize, tableName: "strips" },
  );
  Absence.init(columns({ bandId: ref, groupId: key, date: { ...day, primaryKey: true }, playerId: key }), {
    sequelize,
    tableName: "absences",
  });
  PieceRow.init(
    columns({
      id: key,
      bandId: ref,
      title: text,
      composer: text,
      bars: whole,
      bpm: optionalWhole,
      lineId: optionalRef,
      passages: json,
      version: whole,
      removedAt: optionalInstant,
    }),
    { sequelize, tableName: "pieces" },
  );
  Handout.init(
    columns({
      id: key,
      bandId: ref,
      kind: text,
      title: text,
      mediaId: optionalRef,
      address: optionalText,
      removedAt: optionalInstant,
    }),
    { sequelize, tableName: "handouts" },
  );
  WeekTemplate.init(
    columns({ id: key, bandId: ref, name: text, monday: day, strips: json, removedAt: optionalInstant }),
    { sequelize, tableName: "week_templates" },
  );
  StripTick.init(columns({ stripId: key, playerId: key, bandId: ref, doneAt: instant }), {
    sequelize,
    tableName: "strip_ticks",
  });
  Clash.init(
    columns({
      bandId: ref,
      groupId: key,
      playerId: key,
      weekday: { ...whole, primaryKey: true },
      reason: text,
    }),
    { sequelize, tableName: "clashes" },
  );
  TurnedDown.init(
    columns({
      bandId: ref,
      groupId: { ...ref, primaryKey: true },
      proposal: { ...text, primaryKey: true },
      said: text,
      createdAt: instant,
    }),
    { sequelize, tableName: "turned_down" },
  );
}
