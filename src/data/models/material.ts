import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import type { Glance, LineOutlineFacts, PencilKind, Score } from "../../core/score";
import {
  columns,
  flag,
  json,
  key,
  optionalInstant,
  optionalJson,
  optionalRef,
  optionalText,
  optionalWhole,
  ref,
  text,
  whole,
} from "./definitions";

export class Book extends Model<InferAttributes<Book>, InferCreationAttributes<Book>> {
  declare id: string;
  declare bandId: string;
  declare title: string;
}

export class Line extends Model<InferAttributes<Line>, InferCreationAttributes<Line>> {
  declare id: string;
  declare bandId: string;
  declare bookId: CreationOptional<string | null>;
  declare number: CreationOptional<number | null>;
  declare page: CreationOptional<number | null>;
  declare title: string;
  declare introduces: string;
  /** Place in the director's own order, where it differs from the book's. */
  declare teachingPlace: CreationOptional<number | null>;
  declare teachingReason: CreationOptional<string>;
  /** A line of a book, or a warm-up block or counting page that was given to a group. */
  declare kind: CreationOptional<"line" | "warm-up" | "counting">;
  declare routineId: CreationOptional<string | null>;
  declare drillId: CreationOptional<string | null>;
  /** Archived: off the shelf, and brought back by undo. */
  declare removedAt: CreationOptional<Date | null>;
}

/** What was computed of a revision when it was stored, by the rules of a version of `core/score/outline`. */
export type StoredOutline = { version: number } & (
  | {
      outline: LineOutlineFacts;
      glance: Glance;
      /** Printed numbers of the bars of the first part. */
      barNumbers: string[];
    }
  | { broken: string }
);

export class LineRevision extends Model<
  InferAttributes<LineRevision>,
  InferCreationAttributes<LineRevision>
> {
  declare id: string;
  declare bandId: string;
  declare lineId: string;
  declare number: number;
  declare contentHash: string;
  declare score: Score;
  declare sourceName: string;
  declare notUnderstood: string[];
  /** What the shelf is searched by; null until it is computed. */
  declare outline: CreationOptional<StoredOutline | null>;
}

/** A fingering that a director set or confirmed. */
export class BandFingering extends Model<
  InferAttributes<BandFingering>,
  InferCreationAttributes<BandFingering>
> {
  declare bandId: string;
  declare instrumentId: string;
  declare writtenMidi: number;
  declare fingering: string;
}

export class PencilMark extends Model<InferAttributes<PencilMark>, InferCreationAttributes<PencilMark>> {
  declare id: string;
  declare bandId: string;
  declare lineId: string;
  declare eventId: string;
  declare instrumentId: CreationOptional<string | null>;
  declare playerId: CreationOptional<string | null>;
  declare kind: PencilKind;
  declare text: string;
  declare shared: boolean;
}

export class LineRecording extends Model<
  InferAttributes<LineRecording>,
  InferCreationAttributes<LineRecording>
> {
  declare id: string;
  declare bandId: string;
  declare lineId: string;
  declare mediaId: string;
  declare name: string;
  declare bars: number[];
  declare removedAt: CreationOptional<Date | null>;
}

export class SavedView extends Model<InferAttributes<SavedView>, InferCreationAttributes<SavedView>> {
  declare id: string;
  declare bandId: string;
  declare userId: string;
  declare name: string;
  declare filter: Record<string, unknown>;
}

export function defineMaterial(sequelize: Sequelize) {
  Book.init(
    columns({
      id: key,
      bandId: ref,
      title: text,
    }),
    { sequelize, tableName: "books" },
  );
  Line.init(
    columns({
      id: key,
      bandId: ref,
      bookId: optionalRef,
      number: optionalWhole,
      page: optionalWhole,
      title: text,
      introduces: text,
      teachingPlace: optionalWhole,
      teachingReason: text,
      kind: { ...text, defaultValue: "line" },
      routineId: optionalRef,
      drillId: optionalRef,
      removedAt: optionalInstant,
    }),
    { sequelize, tableName: "lines" },
  );
  LineRevision.init(
    columns({
      id: key,
      bandId: ref,
      lineId: ref,
      number: whole,
      contentHash: text,
      score: json,
      sourceName: text,
      notUnderstood: json,
      outline: optionalJson,
    }),
    { sequelize, tableName: "line_revisions" },
  );
  BandFingering.init(
    columns({
      bandId: key,
      instrumentId: { ...text, primaryKey: true },
      writtenMidi: { ...whole, primaryKey: true },
      fingering: text,
    }),
    { sequelize, tableName: "band_fingerings" },
  );
  PencilMark.init(
    columns({
      id: key,
      bandId: ref,
      lineId: ref,
      eventId: text,
      instrumentId: optionalText,
      playerId: optionalRef,
      kind: text,
      text,
      shared: flag,
    }),
    { sequelize, tableName: "pencil_marks" },
  );
  LineRecording.init(
    columns({
      id: key,
      bandId: ref,
      lineId: ref,
      mediaId: ref,
      name: text,
      bars: json,
      removedAt: optionalInstant,
    }),
    { sequelize, tableName: "line_recordings" },
  );
  SavedView.init(columns({ id: key, bandId: ref, userId: ref, name: text, filter: json }), {
    sequelize,
    tableName: "saved_views",
  });
}
