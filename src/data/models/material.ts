import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import type { Score } from "../../core/score";
import { columns, json, key, optionalRef, optionalWhole, ref, text, whole } from "./definitions";

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
}

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
    }),
    { sequelize, tableName: "line_revisions" },
  );
}
