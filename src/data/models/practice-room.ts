import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import {
  columns,
  day,
  instant,
  json,
  key,
  optionalInstant,
  optionalRef,
  optionalText,
  ref,
  text,
  whole,
} from "./definitions";

/** Something a player did in practice, made by the device and kept once. */
export class PracticeFact extends Model<
  InferAttributes<PracticeFact>,
  InferCreationAttributes<PracticeFact>
> {
  declare id: string;
  declare bandId: string;
  declare playerId: string;
  declare taskId: CreationOptional<string | null>;
  declare kind: string;
  declare at: Date;
  /** Local day of the band. */
  declare day: string;
  declare seconds: number;
  /** What else the fact says, by its kind. */
  declare detail: Record<string, unknown>;
}

/** What a player asks the director about a line. */
export class Question extends Model<InferAttributes<Question>, InferCreationAttributes<Question>> {
  declare id: string;
  declare bandId: string;
  declare playerId: string;
  declare taskId: string;
  declare kind: "question" | "please-play";
  /** Printed number of the bar it is about. */
  declare measure: CreationOptional<string | null>;
  declare text: string;
  declare askedAt: Date;
  declare answer: CreationOptional<string | null>;
  declare answeredBy: CreationOptional<string | null>;
  /** The answer as it was played or spoken. */
  declare answerMediaId: CreationOptional<string | null>;
  declare answeredAt: CreationOptional<Date | null>;
}

export function definePracticeRoom(sequelize: Sequelize): void {
  PracticeFact.init(
    columns({
      id: key,
      bandId: ref,
      playerId: ref,
      taskId: optionalRef,
      kind: text,
      at: instant,
      day,
      seconds: whole,
      detail: json,
    }),
    { sequelize, tableName: "practice_facts" },
  );
  Question.init(
    columns({
      id: key,
      bandId: ref,
      playerId: ref,
      taskId: ref,
      kind: text,
      measure: optionalText,
      text,
      askedAt: instant,
      answer: optionalText,
      answeredBy: optionalRef,
      answerMediaId: optionalRef,
      answeredAt: optionalInstant,
    }),
    { sequelize, tableName: "questions" },
  );
}
