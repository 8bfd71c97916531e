import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import type { Stage } from "../../core/music";
import type { PartVoice } from "../../core/score";
import {
  columns,
  day,
  decimal,
  flag,
  instant,
  json,
  key,
  optionalDay,
  optionalInstant,
  optionalJson,
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
  /** What the band decided, as `services/settings` reads it. */
  declare settings: CreationOptional<Record<string, unknown>>;
  /** The unguessable part of the address other calendars fetch its days from; null while they are not shared. */
  declare calendarAddress: CreationOptional<string | null>;
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
  /** May listen to what the players send. */
  declare mayHear: CreationOptional<boolean>;
  declare leftAt: CreationOptional<Date | null>;
}

export class Player extends Model<InferAttributes<Player>, InferCreationAttributes<Player>> {
  declare id: string;
  declare bandId: string;
  declare name: string;
  declare nameKey: string;
  declare stage: Stage;
  declare stageSince: string;
  declare secretHash: CreationOptional<string | null>;
  /** What the player is called day by day; empty for the name itself. */
  declare calledName: CreationOptional<string>;
  declare part: CreationOptional<PlayerPart | null>;
  /** Notes on the kit: reed, mouthpiece. */
  declare kit: CreationOptional<string>;
  declare joinedOn: string;
  declare leftOn: CreationOptional<string | null>;
  /** How the player likes to see the stand; plain when null. */
  declare preferences: CreationOptional<Preferences | null>;
}

/** What a player chooses for the own stand. */
export interface Preferences {
  /** The notation larger than usual. */
  large: boolean;
  /** What is pressed most lies at the left thumb. */
  leftHanded: boolean;
}

/** Which part of a line a player reads where it has several. */
export type PlayerPart = PartVoice;

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
  /** The stage on this instrument, where it is not the player's. */
  declare stage: CreationOptional<Stage | null>;
}

export class Group extends Model<InferAttributes<Group>, InferCreationAttributes<Group>> {
  declare id: string;
  declare bandId: string;
  declare name: string;
  declare place: number;
  /** Everybody in the band is in it. */
  declare everyone: CreationOptional<boolean>;
  /** Ids of instruments whose players belong to it; null for members by hand. */
  declare rule: CreationOptional<string[] | null>;
  declare archivedAt: CreationOptional<Date | null>;
}

export class GroupMember extends Model<InferAttributes<GroupMember>, InferCreationAttributes<GroupMember>> {
  declare groupId: string;
  declare playerId: string;
  declare bandId: string;
  declare fromDate: string;
  declare toDate: CreationOptional<string | null>;
}

export class Session extends Model<InferAttributes<Session>, InferCreationAttributes<Session>> {
  declare tokenHash: string;
  declare userId: CreationOptional<string | null>;
  declare playerId: CreationOptional<string | null>;
  declare bandId: string;
  declare createdAt: Date;
  declare expiresAt: Date;
  /** The draw of cards that ended it. */
  declare endedBy: CreationOptional<string | null>;
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
      settings: { ...json, defaultValue: {} },
      calendarAddress: optionalText,
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
      mayHear: { ...flag, defaultValue: true },
      leftAt: optionalInstant,
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
      stageSince: day,
      secretHash: optionalText,
      calledName: { ...text, defaultValue: "" },
      part: optionalText,
      kit: { ...text, defaultValue: "" },
      joinedOn: day,
      leftOn: optionalDay,
      preferences: optionalJson,
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
      stage: optionalText,
    }),
    { sequelize, tableName: "player_instruments" },
  );
  Group.init(
    columns({
      id: key,
      bandId: ref,
      name: text,
      place: whole,
      everyone: { ...flag, defaultValue: false },
      rule: optionalJson,
      archivedAt: optionalInstant,
    }),
    { sequelize, tableName: "band_groups" },
  );
  GroupMember.init(
    columns({
      groupId: key,
      playerId: key,
      bandId: ref,
      fromDate: { ...day, primaryKey: true },
      toDate: optionalDay,
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
      endedBy: optionalRef,
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
