import type { Assessment, Sung } from "../../../core/listen";
import type { Judged } from "../../../core/practice";

/** What was found out about a round. */
export interface ToldRound {
  judged: Judged;
  /** What was heard of the notes; null where it was sung. */
  assessment: Assessment | null;
  sung: Sung | null;
  /** How fast it was asked for, beats a minute. */
  bpm: number;
}

/** What a player's desk is doing: one thing at a time, each with its name. */
export type Desk =
  | { at: "ready"; told: ToldRound | null; problem: string }
  /** The reference sounds. */
  | { at: "hearing"; told: ToldRound | null }
  /** The microphone is being asked for. */
  | { at: "starting" }
  | { at: "playing" }
  | { at: "judging" };

export type DeskEvent =
  | { kind: "hear" }
  | { kind: "start" }
  | { kind: "began" }
  /** What sounded or was recorded is over. */
  | { kind: "over" }
  | { kind: "told"; told: ToldRound }
  | { kind: "failed"; problem: string }
  /** Another step, or given up: everything as at the beginning. */
  | { kind: "clear" };

export const READY: Desk = { at: "ready", told: null, problem: "" };

/**
 * The one way a desk changes. What makes no sense where it stands changes nothing: a second press of a button, an answer that
 * comes after the player went on.
 */
export function deskAfter(desk: Desk, event: DeskEvent): Desk {
  switch (event.kind) {
    case "clear":
      return READY;
    case "failed":
      return { at: "ready", told: null, problem: event.problem };
    case "hear":
      return desk.at === "ready" ? { at: "hearing", told: desk.told } : desk;
    case "start":
      return desk.at === "ready" ? { at: "starting" } : desk;
    case "began":
      return desk.at === "starting" ? { at: "playing" } : desk;
    case "over":
      if (desk.at === "hearing") return { at: "ready", told: desk.told, problem: "" };
      return desk.at === "playing" ? { at: "judging" } : desk;
    case "told":
      return desk.at === "judging" ? { at: "ready", told: event.told, problem: "" } : desk;
  }
}
