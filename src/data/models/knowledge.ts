import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import type { ThingKind } from "../../core/progress";
import { columns, day, key, optionalInstant, optionalRef, ref, text, whole } from "./definitions";

/** Something was taught to somebody on a day. */
export class Teaching extends Model<InferAttributes<Teaching>, InferCreationAttributes<Teaching>> {
  declare id: string;
  declare bandId: string;
  declare lineId: CreationOptional<string | null>;
  declare assignmentId: CreationOptional<string | null>;
  declare groupId: CreationOptional<string | null>;
  /** How it is told as a reason. */
  declare said: string;
  declare taughtOn: string;
  declare removedAt: CreationOptional<Date | null>;
}

/** What a teaching brought to one player. */
export class Taught extends Model<InferAttributes<Taught>, InferCreationAttributes<Taught>> {
  declare teachingId: string;
  declare playerId: string;
  declare bandId: string;
  declare instrumentId: string;
  declare kind: ThingKind;
  declare thing: string;
}

/** How often a thing was right and wrong in one take. */
export class TakeEvidence extends Model<
  InferAttributes<TakeEvidence>,
  InferCreationAttributes<TakeEvidence>
> {
  declare takeId: string;
  declare playerId: string;
  declare bandId: string;
  declare instrumentId: string;
  declare kind: ThingKind;
  declare thing: string;
  declare rightTimes: number;
  declare wrongTimes: number;
}

/** What a director took away from what a player knows. */
export class TakenAway extends Model<InferAttributes<TakenAway>, InferCreationAttributes<TakenAway>> {
  declare playerId: string;
  declare bandId: string;
  declare instrumentId: string;
  declare kind: ThingKind;
  declare thing: string;
  declare onDate: string;
}

/** A note that is not judged for one player: small hands. */
export class Exemption extends Model<InferAttributes<Exemption>, InferCreationAttributes<Exemption>> {
  declare playerId: string;
  declare bandId: string;
  declare instrumentId: string;
  declare writtenMidi: number;
}

export function defineKnowledge(sequelize: Sequelize) {
  Teaching.init(
    columns({
      id: key,
      bandId: ref,
      lineId: optionalRef,
      assignmentId: optionalRef,
      groupId: optionalRef,
      said: text,
      taughtOn: day,
      removedAt: optionalInstant,
    }),
    { sequelize, tableName: "teachings" },
  );
  const thing = {
    bandId: ref,
    instrumentId: { ...text, primaryKey: true },
    kind: { ...text, primaryKey: true },
    thing: { ...text, primaryKey: true },
  };
  Taught.init(columns({ teachingId: key, playerId: key, ...thing }), { sequelize, tableName: "taught" });
  TakeEvidence.init(
    columns({
      takeId: key,
      playerId: ref,
      ...thing,
      instrumentId: text,
      rightTimes: whole,
      wrongTimes: whole,
    }),
    { sequelize, tableName: "take_evidence" },
  );
  TakenAway.init(columns({ playerId: key, ...thing, onDate: day }), { sequelize, tableName: "taken_away" });
  Exemption.init(
    columns({
      playerId: key,
      bandId: ref,
      instrumentId: { ...text, primaryKey: true },
      writtenMidi: { ...whole, primaryKey: true },
    }),
    { sequelize, tableName: "exemptions" },
  );
}
