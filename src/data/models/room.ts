import {
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from "sequelize";
import type { RoomNote, WallCommand, WallState } from "../../core/room";
import {
  columns,
  day,
  flag,
  instant,
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

/** Leave to lead a band's lessons on some days without an account. */
export class RoomPass extends Model<InferAttributes<RoomPass>, InferCreationAttributes<RoomPass>> {
  declare id: string;
  declare bandId: string;
  declare name: string;
  declare codeHash: string;
  declare fromDate: string;
  declare toDate: string;
  declare madeBy: string;
  declare shutAt: CreationOptional<Date | null>;
}

/** A lesson of a group on a day, as it stands on the wall. */
export class Room extends Model<InferAttributes<Room>, InferCreationAttributes<Room>> {
  declare id: string;
  declare bandId: string;
  declare groupId: string;
  declare date: string;
  declare openedFor: string;
  declare goal: CreationOptional<string>;
  declare passId: string | null;
  declare atHome: CreationOptional<boolean>;
  declare begunAt: Date;
  declare closedAt: CreationOptional<Date | null>;
  declare code: CreationOptional<string | null>;
  declare codeUntil: CreationOptional<Date | null>;
  declare state: WallState;
  declare stateVersion: CreationOptional<number>;
  declare heard: CreationOptional<number>;
  declare told: CreationOptional<number>;
  declare noted: CreationOptional<number>;
  /** Strips of other lessons that are done in this one, in their order. */
  declare brought: CreationOptional<string[] | null>;
  /** How far the log had come when the plan was told of it. */
  declare closedNoted: CreationOptional<number | null>;
}

/** A device that may steer one lesson, or lead the lessons of a pass. */
export class RoomRemote extends Model<InferAttributes<RoomRemote>, InferCreationAttributes<RoomRemote>> {
  declare tokenHash: string;
  declare bandId: string;
  declare roomId: string | null;
  declare passId: string | null;
  declare expiresAt: Date;
}

export class RoomCommand extends Model<InferAttributes<RoomCommand>, InferCreationAttributes<RoomCommand>> {
  declare roomId: string;
  declare bandId: string;
  declare seq: number;
  declare id: string;
  declare command: WallCommand;
  declare at: Date;
}

/** One tap of the log. */
export class RoomEntryRow extends Model<
  InferAttributes<RoomEntryRow>,
  InferCreationAttributes<RoomEntryRow>
> {
  declare id: string;
  declare roomId: string;
  declare bandId: string;
  declare at: Date;
  declare blockId: string | null;
  declare lineId: string | null;
  declare note: RoomNote;
  declare undone: boolean;
}

export function defineRoom(sequelize: Sequelize): void {
  RoomPass.init(
    columns({
      id: key,
      bandId: ref,
      name: text,
      codeHash: text,
      fromDate: day,
      toDate: day,
      madeBy: ref,
      shutAt: optionalInstant,
    }),
    { sequelize, tableName: "room_passes" },
  );
  Room.init(
    columns({
      id: key,
      bandId: ref,
      groupId: ref,
      date: day,
      openedFor: ref,
      goal: { ...text, defaultValue: "" },
      passId: optionalRef,
      atHome: { ...flag, defaultValue: false },
      begunAt: instant,
      closedAt: optionalInstant,
      code: optionalText,
      codeUntil: optionalInstant,
      state: json,
      stateVersion: { ...whole, defaultValue: 0 },
      heard: { ...whole, defaultValue: 0 },
      told: { ...whole, defaultValue: 0 },
      noted: { ...whole, defaultValue: 0 },
      brought: optionalJson,
      closedNoted: optionalWhole,
    }),
    { sequelize, tableName: "rooms" },
  );
  RoomRemote.init(
    columns({
      tokenHash: { ...text, primaryKey: true },
      bandId: ref,
      roomId: optionalRef,
      passId: optionalRef,
      expiresAt: instant,
    }),
    { sequelize, tableName: "room_remotes" },
  );
  RoomCommand.init(
    columns({
      roomId: { ...ref, primaryKey: true },
      bandId: ref,
      seq: { ...whole, primaryKey: true },
      id: ref,
      command: json,
      at: instant,
    }),
    { sequelize, tableName: "room_commands" },
  );
  RoomEntryRow.init(
    columns({
      id: key,
      roomId: ref,
      bandId: ref,
      at: instant,
      blockId: optionalText,
      lineId: optionalRef,
      note: json,
      undone: flag,
    }),
    { sequelize, tableName: "room_entries" },
  );
}
