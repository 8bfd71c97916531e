import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import type { CountingSystem, CourseSettings, PageSettings } from "../../core/rhythm";
import type { Routine as RoutineContent } from "../../core/warmup";
import {
  columns,
  json,
  key,
  optionalInstant,
  optionalRef,
  optionalWhole,
  ref,
  text,
  whole,
} from "./definitions";

export class Routine extends Model<InferAttributes<Routine>, InferCreationAttributes<Routine>> {
  declare id: string;
  declare bandId: string;
  declare title: string;
  declare removedAt: CreationOptional<Date | null>;
}

export class RoutineRevision extends Model<
  InferAttributes<RoutineRevision>,
  InferCreationAttributes<RoutineRevision>
> {
  declare id: string;
  declare bandId: string;
  declare routineId: string;
  declare number: number;
  declare content: RoutineContent;
  declare createdAt: CreationOptional<Date>;
}

/** What a counting page holds. */
export interface DrillContent {
  settings: PageSettings;
  /** Its bars by name, in order. */
  forms: string[];
  bpm: number;
  loops: number;
  /** Counting system shown under the notes; null shows none. */
  system: string | null;
}

export class Drill extends Model<InferAttributes<Drill>, InferCreationAttributes<Drill>> {
  declare id: string;
  declare bandId: string;
  declare title: string;
  declare courseId: CreationOptional<string | null>;
  declare courseDay: CreationOptional<number | null>;
  declare removedAt: CreationOptional<Date | null>;
}

export class DrillRevision extends Model<
  InferAttributes<DrillRevision>,
  InferCreationAttributes<DrillRevision>
> {
  declare id: string;
  declare bandId: string;
  declare drillId: string;
  declare number: number;
  declare content: DrillContent;
}

export class Course extends Model<InferAttributes<Course>, InferCreationAttributes<Course>> {
  declare id: string;
  declare bandId: string;
  declare title: string;
  declare settings: CourseSettings;
  declare removedAt: CreationOptional<Date | null>;
}

export class CourseMiss extends Model<InferAttributes<CourseMiss>, InferCreationAttributes<CourseMiss>> {
  declare bandId: string;
  declare courseId: string;
  declare day: number;
  declare formId: string;
}

export class BandCountingSystem extends Model<
  InferAttributes<BandCountingSystem>,
  InferCreationAttributes<BandCountingSystem>
> {
  declare id: string;
  declare bandId: string;
  declare name: string;
  declare content: CountingSystem;
}

/** A sentence of the director's, recorded once and laid into play-alongs. */
export class Reminder extends Model<InferAttributes<Reminder>, InferCreationAttributes<Reminder>> {
  declare id: string;
  declare bandId: string;
  declare mediaId: string;
  declare name: string;
  declare removedAt: CreationOptional<Date | null>;
}

export function definePreparation(sequelize: Sequelize) {
  Routine.init(columns({ id: key, bandId: ref, title: text, removedAt: optionalInstant }), {
    sequelize,
    tableName: "routines",
  });
  RoutineRevision.init(
    columns({
      id: key,
      bandId: ref,
      routineId: ref,
      number: whole,
      content: json,
      createdAt: optionalInstant,
    }),
    { sequelize, tableName: "routine_revisions" },
  );
  Course.init(columns({ id: key, bandId: ref, title: text, settings: json, removedAt: optionalInstant }), {
    sequelize,
    tableName: "courses",
  });
  CourseMiss.init(
    columns({
      bandId: ref,
      courseId: key,
      day: { ...whole, primaryKey: true },
      formId: { ...text, primaryKey: true },
    }),
    { sequelize, tableName: "course_misses" },
  );
  Drill.init(
    columns({
      id: key,
      bandId: ref,
      title: text,
      courseId: optionalRef,
      courseDay: optionalWhole,
      removedAt: optionalInstant,
    }),
    { sequelize, tableName: "drills" },
  );
  DrillRevision.init(columns({ id: key, bandId: ref, drillId: ref, number: whole, content: json }), {
    sequelize,
    tableName: "drill_revisions",
  });
  BandCountingSystem.init(columns({ id: key, bandId: ref, name: text, content: json }), {
    sequelize,
    tableName: "counting_systems",
  });
  Reminder.init(columns({ id: key, bandId: ref, mediaId: ref, name: text, removedAt: optionalInstant }), {
    sequelize,
    tableName: "reminders",
  });
}
