import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import type { Assessment } from "../../core/listen";
import type { MarkedBy } from "../../core/progress";
import {
  columns,
  flag,
  instant,
  json,
  key,
  optionalDecimal,
  optionalInstant,
  optionalJson,
  ref,
  text,
  whole,
} from "./definitions";

export class AssessmentRow extends Model<
  InferAttributes<AssessmentRow>,
  InferCreationAttributes<AssessmentRow>
> {
  declare id: string;
  declare bandId: string;
  declare takeId: string;
  declare engineVersion: string;
  declare status: string;
  declare result: Assessment;
  declare notesTotal: number;
  declare notesClean: number;
  declare notesWrong: number;
  declare tempoBpm: CreationOptional<number | null>;
}

export class AssessmentBar extends Model<
  InferAttributes<AssessmentBar>,
  InferCreationAttributes<AssessmentBar>
> {
  declare assessmentId: string;
  declare bandId: string;
  declare measureIndex: number;
  declare notes: number;
  declare wrong: number;
  declare untimely: number;
}

export class Review extends Model<InferAttributes<Review>, InferCreationAttributes<Review>> {
  declare takeId: string;
  declare bandId: string;
  declare reviewerId: string;
  declare decision: "accepted" | "again";
  declare comment: string;
  /** Words for those at home. */
  declare forFamily: CreationOptional<string>;
  declare reviewedAt: Date;
  /** From when on the player sees it; null while it waits to be released. */
  declare releasedAt: CreationOptional<Date | null>;
  /** The rubric and the rule for late takes as they stood. */
  declare markedBy: CreationOptional<MarkedBy | null>;
  /** Accepted with others alike, without being heard itself. */
  declare unheard: CreationOptional<boolean>;
}

export class Mark extends Model<InferAttributes<Mark>, InferCreationAttributes<Mark>> {
  declare takeId: string;
  declare bandId: string;
  declare criterion: string;
  declare score: number;
}

export function defineListening(sequelize: Sequelize) {
  AssessmentRow.init(
    columns({
      id: key,
      bandId: ref,
      takeId: ref,
      engineVersion: text,
      status: text,
      result: json,
      notesTotal: whole,
      notesClean: whole,
      notesWrong: whole,
      tempoBpm: optionalDecimal,
    }),
    { sequelize, tableName: "assessments" },
  );
  AssessmentBar.init(
    columns({
      assessmentId: key,
      bandId: ref,
      measureIndex: { ...whole, primaryKey: true },
      notes: whole,
      wrong: whole,
      untimely: whole,
    }),
    { sequelize, tableName: "assessment_bars" },
  );
  Review.init(
    columns({
      takeId: key,
      bandId: ref,
      reviewerId: ref,
      decision: text,
      comment: text,
      forFamily: { ...text, defaultValue: "" },
      reviewedAt: instant,
      releasedAt: optionalInstant,
      markedBy: optionalJson,
      unheard: { ...flag, defaultValue: false },
    }),
    { sequelize, tableName: "reviews" },
  );
  Mark.init(
    columns({
      takeId: key,
      bandId: ref,
      criterion: { ...text, primaryKey: true },
      score: whole,
    }),
    { sequelize, tableName: "marks" },
  );
}
