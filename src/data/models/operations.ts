import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import { columns, instant, key, optionalInstant, optionalText, ref, text, whole } from "./definitions";

export class Job extends Model<InferAttributes<Job>, InferCreationAttributes<Job>> {
  declare id: string;
  declare kind: string;
  declare subjectId: string;
  declare engineVersion: string;
  declare bandId: string;
  declare playerId: string;
  declare state: string;
  declare attempts: number;
  declare leaseUntil: CreationOptional<Date | null>;
  declare runAfter: Date;
  declare startedAt: CreationOptional<Date | null>;
  declare problem: CreationOptional<string | null>;
}

export class AuditEntry extends Model<InferAttributes<AuditEntry>, InferCreationAttributes<AuditEntry>> {
  declare id: string;
  declare bandId: string;
  declare actor: string;
  declare action: string;
  declare subjectId: string;
}

export function defineOperations(sequelize: Sequelize) {
  Job.init(
    columns({
      id: key,
      kind: text,
      subjectId: ref,
      engineVersion: text,
      bandId: ref,
      playerId: ref,
      state: text,
      attempts: whole,
      leaseUntil: optionalInstant,
      runAfter: instant,
      startedAt: optionalInstant,
      problem: optionalText,
    }),
    { sequelize, tableName: "jobs" },
  );
  AuditEntry.init(
    columns({
      id: key,
      bandId: ref,
      actor: text,
      action: text,
      subjectId: text,
    }),
    { sequelize, tableName: "audit_log" },
  );
}
