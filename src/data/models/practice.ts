import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import type { Gap } from "../../core/listen";
import type { Stage } from "../../core/music";
import type { Asks, Terms } from "../../core/practice";
import type { AskedDynamic } from "../../core/score";
import {
  bigWhole,
  columns,
  day,
  decimal,
  instant,
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

/** Where a task stands: not sent yet, waiting for the director, asked again, done. */
export type TaskState = "open" | "sent" | "again" | "accepted";
/** Waiting to be heard, heard, no sound that can be read, or the bench failed at it. */
export type TakeState = "waiting" | "assessed" | "unreadable" | "unheard";

/** Whom in a group something is for: players of these instruments, of these stages, or these players. */
export interface OnlyFor {
  instrumentIds?: string[];
  stages?: Stage[];
  playerIds?: string[];
}

/** What a take is heard against beside its bars. */
export type AskedOfTake = Pick<Terms, "withoutRepeats" | "styles" | "lowestBpm"> & {
  goalBpm: number;
  dynamics?: readonly AskedDynamic[];
};

export class Assignment extends Model<InferAttributes<Assignment>, InferCreationAttributes<Assignment>> {
  declare id: string;
  declare bandId: string;
  declare groupId: string;
  /** Whom in the group it is for; everybody when null. */
  declare onlyFor: CreationOptional<OnlyFor | null>;
  declare revisionId: string;
  declare goalBpm: number;
  declare timesPerWeek: number;
  declare dueDate: string;
  declare note: string;
  /** Indexes of the first and last measure asked for; null for the whole line. */
  declare firstBar: CreationOptional<number | null>;
  declare lastBar: CreationOptional<number | null>;
  /** What was changed after it was given, as the players are told. */
  declare changedNote: CreationOptional<string>;
  declare withdrawnAt: CreationOptional<Date | null>;
  /** How it is to be played and recorded; plain when null. */
  declare terms: CreationOptional<Terms | null>;
  /** From this day on it is on the stands; at once when null. */
  declare opensOn: CreationOptional<string | null>;
  /** The test that this one makes up for. */
  declare countsFor: CreationOptional<string | null>;
  /** The player who opened it by own choice; null where a director gave it. */
  declare chosenBy: CreationOptional<string | null>;
}

export class Task extends Model<InferAttributes<Task>, InferCreationAttributes<Task>> {
  declare id: string;
  declare bandId: string;
  declare assignmentId: string;
  declare playerId: string;
  declare instrumentId: string;
  /** Which part of the line; null is the instrument's own or the first. */
  declare partId: CreationOptional<string | null>;
  /** How its part was made, so that a later change of stage or build moves no notes under a take. */
  declare stage: Stage;
  declare variant: CreationOptional<string | null>;
  /** Null only for a task from before it was pinned. */
  declare octaveShift: CreationOptional<number | null>;
  declare state: TaskState;
  /** Its player left the group or the instrument; what was sent stays. */
  declare closedAt: CreationOptional<Date | null>;
  /** Its player said it is done, where nothing is recorded. */
  declare toldDoneAt: CreationOptional<Date | null>;
  /** What the next take is asked for otherwise than its assignment says. */
  declare asks: CreationOptional<Asks | null>;
}

export class Media extends Model<InferAttributes<Media>, InferCreationAttributes<Media>> {
  declare id: string;
  declare bandId: string;
  declare storeKey: string;
  declare bytes: number;
  declare sha256: string;
  declare contentType: string;
  /** Its bytes are gone, by the rule of the band. */
  declare erasedAt: CreationOptional<Date | null>;
}

export class Upload extends Model<InferAttributes<Upload>, InferCreationAttributes<Upload>> {
  declare id: string;
  declare bandId: string;
  declare playerId: string;
  declare taskId: string;
  declare bytes: number;
  declare sha256: string;
  declare recordedAt: Date;
  declare gaps: CreationOptional<Gap[] | null>;
  declare createdAt: CreationOptional<Date>;
}

export class Take extends Model<InferAttributes<Take>, InferCreationAttributes<Take>> {
  declare id: string;
  declare bandId: string;
  declare taskId: string;
  declare playerId: string;
  declare originalId: string;
  declare canonicalId: CreationOptional<string | null>;
  declare seconds: number;
  declare peaks: CreationOptional<number[] | null>;
  declare state: TakeState;
  declare problem: CreationOptional<string | null>;
  declare recordedAt: Date;
  /** Stretches that the recording device left out. */
  declare gaps: CreationOptional<Gap[] | null>;
  /** The bars that were asked for when it was sent. */
  declare firstBar: CreationOptional<number | null>;
  declare lastBar: CreationOptional<number | null>;
  /** How it was asked for when it was sent; as the task says today for a take from before that was kept. */
  declare asked: CreationOptional<AskedOfTake | null>;
}

export function definePractice(sequelize: Sequelize) {
  Assignment.init(
    columns({
      id: key,
      bandId: ref,
      groupId: ref,
      onlyFor: optionalJson,
      revisionId: ref,
      goalBpm: whole,
      timesPerWeek: whole,
      dueDate: day,
      note: text,
      firstBar: optionalWhole,
      lastBar: optionalWhole,
      changedNote: { ...text, defaultValue: "" },
      withdrawnAt: optionalInstant,
      terms: optionalJson,
      opensOn: optionalDay,
      countsFor: optionalRef,
      chosenBy: optionalRef,
    }),
    { sequelize, tableName: "assignments" },
  );
  Task.init(
    columns({
      id: key,
      bandId: ref,
      assignmentId: ref,
      playerId: ref,
      instrumentId: text,
      partId: optionalText,
      stage: text,
      variant: optionalText,
      octaveShift: optionalWhole,
      state: text,
      closedAt: optionalInstant,
      toldDoneAt: optionalInstant,
      asks: optionalJson,
    }),
    { sequelize, tableName: "tasks" },
  );
  Media.init(
    columns({
      id: key,
      bandId: ref,
      storeKey: text,
      bytes: bigWhole,
      sha256: text,
      contentType: text,
      erasedAt: optionalInstant,
    }),
    { sequelize, tableName: "media" },
  );
  Upload.init(
    columns({
      id: key,
      bandId: ref,
      playerId: ref,
      taskId: ref,
      bytes: bigWhole,
      sha256: text,
      recordedAt: instant,
      gaps: optionalJson,
      createdAt: optionalInstant,
    }),
    { sequelize, tableName: "uploads" },
  );
  Take.init(
    columns({
      id: key,
      bandId: ref,
      taskId: ref,
      playerId: ref,
      originalId: ref,
      canonicalId: optionalRef,
      seconds: decimal,
      peaks: optionalJson,
      state: text,
      problem: optionalText,
      recordedAt: instant,
      gaps: optionalJson,
      firstBar: optionalWhole,
      lastBar: optionalWhole,
      asked: optionalJson,
    }),
    { sequelize, tableName: "takes" },
  );
}
