import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import type { Overrule } from "../../core/progress";
import { columns, instant, json, key, optionalRef, ref, text, whole } from "./definitions";

/** A director's word against the engine's. */
export class OverruleRow extends Model<InferAttributes<OverruleRow>, InferCreationAttributes<OverruleRow>> {
  declare takeId: string;
  declare bandId: string;
  /** A cause by its id, a note by its place, or the take: one word about each. */
  declare target: string;
  declare word: Overrule;
  /** What the engine had told, and how often; clean where it told nothing. */
  declare toldKind: string;
  declare places: number;
  declare engineVersion: string;
  declare byId: string;
  declare at: Date;
}

/** A director's words at a note of a take. */
export class Pin extends Model<InferAttributes<Pin>, InferCreationAttributes<Pin>> {
  declare id: string;
  declare bandId: string;
  declare takeId: string;
  declare byId: string;
  declare eventId: string;
  /** Printed number of its bar. */
  declare measure: string;
  declare text: string;
  /** The same in the director's voice. */
  declare mediaId: CreationOptional<string | null>;
  declare at: Date;
}

export class AssessmentCause extends Model<
  InferAttributes<AssessmentCause>,
  InferCreationAttributes<AssessmentCause>
> {
  declare assessmentId: string;
  declare bandId: string;
  declare causeId: string;
  declare kind: string;
  declare places: number;
}

/** A band's own words in place of a sentence of the bench. */
export class OwnWords extends Model<InferAttributes<OwnWords>, InferCreationAttributes<OwnWords>> {
  declare bandId: string;
  declare place: string;
  declare text: string;
}

export function defineDesk(sequelize: Sequelize): void {
  OverruleRow.init(
    columns({
      takeId: key,
      bandId: ref,
      target: { ...text, primaryKey: true },
      word: json,
      toldKind: text,
      places: whole,
      engineVersion: text,
      byId: ref,
      at: instant,
    }),
    { sequelize, tableName: "overrules" },
  );
  Pin.init(
    columns({
      id: key,
      bandId: ref,
      takeId: ref,
      byId: ref,
      eventId: text,
      measure: text,
      text,
      mediaId: optionalRef,
      at: instant,
    }),
    { sequelize, tableName: "pins" },
  );
  AssessmentCause.init(
    columns({
      assessmentId: key,
      bandId: ref,
      causeId: { ...text, primaryKey: true },
      kind: text,
      places: whole,
    }),
    { sequelize, tableName: "assessment_causes" },
  );
  OwnWords.init(columns({ bandId: key, place: { ...text, primaryKey: true }, text }), {
    sequelize,
    tableName: "own_words",
  });
}
