import { z } from "zod";
import { INSTRUMENTS, STAGES, type Stage } from "../../core/music";
import type { StageSuggestion } from "../../core/progress";
import { COLUMNS, type Column, type PlannedRow, type RosterError } from "../../core/roster";
import type { PlayerPart } from "../../data";
import { tidied } from "../tidy";

const instrumentIds = INSTRUMENTS.map((instrument) => instrument.id) as [string, ...string[]];
const id = z.uuid("This is not a known id.");
const instrument = z.enum(instrumentIds, { error: "Choose an instrument." });
const instruments = z
  .array(instrument)
  .min(1, "Choose an instrument.")
  .max(3, "A player has at most three instruments.");
const playerName = tidied(120, "A name has at most 120 letters.", "Type the player's name.");
const stage = z.enum(STAGES, { error: "Choose how far the player is." });
export const PARTS = ["first", "second", "bass", "easy"] as const;

export const AddPlayer = z.object({
  name: playerName,
  instruments,
  stage,
  groupIds: z.array(id).max(20).default([]),
});

const groupName = tidied(80, "A group's name has at most 80 letters.", "Type the group's name.");
export const AddGroup = z.object({
  name: groupName,
  /** Its players are those of these instruments; left out or empty for members by hand. */
  rule: z.array(instrument).max(40).optional(),
});
export const ChangeGroup = z.object({
  name: groupName,
  rule: z.array(instrument).max(40),
});
export const SetMembers = z.object({ playerIds: z.array(id).max(500) });

/** A cell of the table of players: what it held when it was opened, and what it holds now. */
const change = <F extends string, T extends z.ZodType>(field: F, value: T) =>
  z.object({ playerId: id, field: z.literal(field), was: z.unknown(), is: value });
export const Edit = z.discriminatedUnion("field", [
  change("name", playerName),
  change("calledName", tidied(60, "At most 60 letters.")),
  change("kit", tidied(200, "Notes on the kit have at most 200 letters.")),
  change("part", z.enum(PARTS).nullable()),
  change("stage", stage),
  change("instruments", instruments),
  /** Builds by instrument id; null for the usual one. */
  change("builds", z.record(z.string().max(32), z.string().max(24).nullable())),
  /** Stage by instrument id where it is not the player's. */
  change("stages", z.record(z.string().max(32), stage.nullable())),
  change("groupIds", z.array(id).max(20)),
  /** Whether the player has left the band. */
  change("left", z.boolean()),
]);
export const EditPlayers = z.object({ changes: z.array(Edit).min(1).max(1000) });
export type PlayerEdit = z.output<typeof Edit>;

/** Which build of an instrument a player has; null is the usual one. */
export const SetBuild = z.object({ variant: z.string().max(24).nullable() });

/** A list, as text, with what a person said of its columns and doubtful rows. */
export const LookAtRoster = z.object({
  text: z.string().max(400_000, "This list is longer than 500 rows of a band."),
  columns: z.array(z.enum(COLUMNS)).max(60).optional(),
});
export const ImportRoster = LookAtRoster.extend({
  /** By line of the list: add as a new player, leave out, or the id of the player it is. */
  choices: z.record(z.string(), z.union([z.literal("add"), z.literal("skip"), id])).default({}),
  /** Instruments chosen for lines whose own words name none. */
  instruments: z.record(z.string(), instrument).default({}),
  /** The stage of those for whom the list says none. */
  stage: stage.default("five-notes"),
});

export const DrawCards = z.object({
  drawId: id,
  playerIds: z.array(id).min(1, "Choose players.").max(20),
});

export interface PlayerRow {
  id: string;
  name: string;
  calledName: string;
  stage: Stage;
  part: PlayerPart | null;
  kit: string;
  joinedOn: string;
  leftOn: string | null;
  hasCard: boolean;
  instruments: string[];
  /** Build by instrument id, where it is not the usual one. */
  builds: Record<string, string>;
  /** Stage by instrument id, where it is not the player's. */
  stages: Record<string, Stage>;
  groupIds: string[];
  /** What speaks for the next stage. */
  suggestion: StageSuggestion | null;
}

export interface GroupRow {
  id: string;
  name: string;
  /** Everybody is in it. */
  everyone: boolean;
  /** Instruments whose players belong to it; empty for members by hand. */
  rule: string[];
  players: number;
  /** Names of the instruments in it. */
  instruments: string[];
}

export interface BandOverview {
  name: string;
  town: string;
  classCode: string;
  today: string;
  /** The first school day in a week: when something given today is due, unless the director says otherwise. */
  nextDue: string;
  groups: GroupRow[];
  archivedGroups: { id: string; name: string }[];
  /** Those in the band. */
  players: PlayerRow[];
  /** Those who left. */
  gone: PlayerRow[];
  /** The newest change that can be taken back, by this director. */
  lastChange: { id: string; said: string } | null;
}

/** What importing a list would do. */
export interface RosterLook {
  headings: string[];
  columns: Column[];
  rows: PlannedRow[];
  /** Groups that would be made. */
  newGroups: string[];
  /** Names of players the list does not hold. */
  notInList: string[];
  problem: RosterError["reason"] | null;
}

export interface Changed {
  changeId: string;
  said: string;
}
