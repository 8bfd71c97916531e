import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import type { Stage } from "../../core/music";
import {
  columns,
  day,
  decimal,
  instant,
  key,
  optionalDay,
  optionalRef,
  optionalText,
  ref,
  text,
  whole,
} from "./definitions";

export class Band extends Model<InferAttributes<Band>, InferCreationAttributes<Band>> {
  declare id: string;
  declare name: string;
  declare town: string;
  declare classCode: string;
  declare timeZone: string;
  declare pitchToleranceCents: number;
  declare timingToleranceMs: number;
  /** What A4 is tuned to, Hz. */
  declare a4Hz: CreationOptional<number>;
  /** Id of the counting system the band counts in. */
  declare countingSystem: CreationOptional<string>;
}

export class User extends Model<InferAttributes<User>, InferCreationAttributes<User>> {
  declare id: string;
  declare email: string;
  declare name: string;
  declare passwordHash: string;
}

export class Membership extends Model<InferAttributes<Membership>, InferCreationAttributes<Membership>> {
  declare userId: string;
  declare bandId: string;
  declare role: string;
}

export class Player extends Model<InferAttributes<Player>, InferCreationAttributes<Player>> {
  declare id: string;
  declare bandId: string;
  declare name: string;
  declare nameKey: string;
  declare stage: Stage;
  declare secretHash: CreationOptional<string | null>;
}

export class PlayerInstrument extends Model<
  InferAttributes<PlayerInstrument>,
  InferCreationAttributes<PlayerInstrument>
> {
  declare playerId: string;
  declare bandId: string;
  declare instrumentId: string;
  declare fromDate: string;
  declare toDate: CreationOptional<string | null>;
  /** Build of the instrument, one of its variants; null is the usual one. */
  declare variant: CreationOptional<string | null>;
}

export class Group extends Model<InferAttributes<Group>, InferCreationAttributes<Group>> {
  declare id: string;
  declare bandId: string;
  declare name: string;
  declare place: number;
}

export class GroupMember extends Model<InferAttributes<GroupMember>, InferCreationAttributes<GroupMember>> {
  declare groupId: string;
  declare playerId: string;
  declare bandId: string;
}

export class Session extends Model<InferAttributes<Session>, InferCreationAttributes<Session>> {
  declare tokenHash: string;
  declare userId: CreationOptional<string | null>;
  declare playerId: CreationOptional<string | null>;
  declare bandId: string;
  declare createdAt: Date;
  declare expiresAt: Date;
}

export class SignInAttempt extends Model<
  InferAttributes<SignInAttempt>,
  InferCreationAttributes<SignInAttempt>
> {
  declare subject: string;
  declare failures: number;
  declare windowStart: Date;
}

/** A browser on which somebody has signed in: strangers cannot lock it out. */
export class KnownDevice extends Model<InferAttributes<KnownDevice>, InferCreationAttributes<KnownDevice>> {
  declare device: string;
  declare account: string;
  declare lastUsedAt: Date;
}

export function definePeople(sequelize: Sequelize) {
  Band.init(
    columns({
      id: key,
      name: text,
      town: text,
      classCode: text,
      timeZone: text,
      pitchToleranceCents: whole,
      timingToleranceMs: whole,
      a4Hz: { ...decimal, defaultValue: 440 },
      countingSystem: { ...text, defaultValue: "numbers" },
    }),
    { sequelize, tableName: "bands" },
  );
  User.init(
    columns({
      id: key,
      email: text,
      name: text,
      passwordHash: text,
    }),
    { sequelize, tableName: "users" },
  );
  Membership.init(
    columns({
      userId: key,
      bandId: key,
      role: text,
    }),
    { sequelize, tableName: "memberships" },
  );
  Player.init(
    columns({
      id: key,
      bandId: ref,
      name: text,
      nameKey: text,
      stage: text,
      secretHash: optionalText,
    }),
    { sequelize, tableName: "players" },
  );
  PlayerInstrument.init(
    columns({
      playerId: key,
      bandId: ref,
      instrumentId: { ...text, primaryKey: true },
      fromDate: { ...day, primaryKey: true },
      toDate: optionalDay,
      variant: optionalText,
    }),
    { sequelize, tableName: "player_instruments" },
  );
  Group.init(
    columns({
      id: key,
      bandId: ref,
      name: text,
      place: whole,
    }),
    { sequelize, tableName: "band_groups" },
  );
  GroupMember.init(
    columns({
      groupId: key,
      playerId: key,
      bandId: ref,
    }),
    { sequelize, tableName: "group_members" },
  );
  Session.init(
    columns({
      tokenHash: { ...text, primaryKey: true },
      userId: optionalRef,
      playerId: optionalRef,
      bandId: ref,
      createdAt: instant,
      expiresAt: instant,
    }),
    { sequelize, tableName: "sessions" },
  );
  SignInAttempt.init(
    columns({
      subject: { ...text, primaryKey: true },
      failures: whole,
      windowStart: instant,
    }),
    { sequelize, tableName: "sign_in_attempts" },
  );
  KnownDevice.init(
    columns({
      device: { ...text, primaryKey: true },
      account: key,
      lastUsedAt: instant,
    }),
    { sequelize, tableName: "known_devices" },
  );
}
