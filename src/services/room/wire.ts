import type { ForWhom, StripKind } from "../../core/plan";
import type { Naming } from "../../core/playalong";
import type { BoardRow, RoomEntry, RoomNote, Told, WallBlock, WallState } from "../../core/room";
import type { Score } from "../../core/score";

/** What there is to play and to read in a block. */
export interface RoomTune {
  lineId: string | null;
  /** As it sounds, for the reference; one part. */
  score: Score;
  /** Printed numbers of its bars. */
  numbers: string[];
  /** One instrument each, in score order. */
  rows: BoardRow[];
  /** A counting page engraved with its syllables; empty for everything else. */
  slide: string;
  /** Breathed, not played: only the beat sounds. */
  unheard: boolean;
}

export interface RoomBlock extends WallBlock {
  stripId: string;
  /** What stands on the run sheet: the routine, where this is a block of one. */
  stripTitle: string;
  kind: StripKind;
  title: string;
  /** Whom it is for, and in words; empty for everybody. */
  whom: ForWhom;
  forWhom: string;
  /** "09:40". */
  from: string;
  /** The director's own words about it; empty for everybody else. */
  note: string;
  tune: RoomTune | null;
}

export interface RoomPlayer {
  id: string;
  name: string;
  instrumentIds: string[];
}

/** An instrument in the room, with the note it tunes to. */
export interface RoomInstrument {
  id: string;
  label: string;
  /** As the player reads it and as the tuner shows it; null where nothing is tuned. */
  tuning: { written: string; concert: string; midi: number } | null;
}

/** Everything a lesson needs, so that the wall goes on without the network. */
export interface RoomSheet {
  groupId: string;
  groupName: string;
  date: string;
  label: string;
  startsAt: string;
  endsAt: string;
  lesson: number | null;
  goal: string;
  changeoverMin: number;
  naming: Naming;
  blocks: RoomBlock[];
  players: RoomPlayer[];
  instruments: RoomInstrument[];
  /** Missed it already by the Week. */
  absent: string[];
  home: string[];
}

/** What the wall and the phone hold of a lesson. */
export interface RoomView {
  id: string;
  sheet: RoomSheet;
  state: WallState;
  stateVersion: number;
  told: number;
  heard: number;
  entries: RoomEntry[];
  closed: boolean;
  led: "director" | "stand-in" | "player";
}

/** One message of the stream. */
export interface RoomNews {
  told?: Told[];
  state?: WallState;
  stateVersion?: number;
  heard?: number;
  entries?: RoomEntry[];
  closed?: boolean;
}

/** A meeting that can be opened on the wall. */
export interface RoomChoice {
  groupId: string;
  groupName: string;
  date: string;
  label: string;
  startsAt: string;
  minutes: number;
  blocks: number;
  /** The lesson that was opened already. */
  roomId: string | null;
  goal: string;
  atHome: boolean;
  closed: boolean;
}

export interface RoomStart {
  today: string;
  choices: RoomChoice[];
  /** Lessons of the days before. */
  before: RoomChoice[];
  passes: { id: string; name: string; fromLabel: string; toLabel: string }[];
}

/** A lesson whose blocks can be done in another one. */
export interface OtherLesson {
  groupName: string;
  date: string;
  label: string;
  /** What its group did not get to, and what is done in the other lesson already. */
  blocks: { id: string; title: string; minutes: number; left: boolean; brought: boolean }[];
}

/** Something that was noted of a line in a lesson. */
export interface NotedInClass {
  label: string;
  groupName: string;
  note: RoomNote;
}

/** A lesson as it is looked back on. */
export interface RoomLog {
  id: string;
  groupId: string;
  groupName: string;
  label: string;
  date: string;
  closed: boolean;
  ledBy: string;
  sheet: RoomSheet;
  state: WallState;
  entries: RoomEntry[];
  /** Something was noted in it that the plan was not told. */
  late: boolean;
  /** Strips that were done in a later lesson of the group. */
  doneLater: string[];
  /** The group's next class; null where there is none in the next two weeks. */
  next: { date: string; label: string } | null;
}

/** What became of a lesson that was closed. */
export interface Closed {
  absent: number;
  taught: number;
  notReached: number;
  /** Strips put into the next class. */
  starred: number;
}
