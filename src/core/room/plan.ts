import { callAndResponse, type PlayAlong, playAlong } from "../playalong";
import { type Score, type Timeline, timeline } from "../score";
import { joined, type Stretch } from "./bars";

/** How a line is done in the room. "say" and "clap" leave the reference silent: the class sounds. */
export const ROOM_WAYS = ["play", "call", "sing", "say", "clap"] as const;
export type RoomWay = (typeof ROOM_WAYS)[number];

/** How the first note is given before the count: not at all, two beats and a breath, or three plus one. */
export const FIRST_NOTES = ["none", "two", "three-one"] as const;
export type FirstNote = (typeof FIRST_NOTES)[number];
const FIRST = { none: false, two: { sounds: 2, rests: 1 }, "three-one": { sounds: 3, rests: 1 } } as const;

export interface RoomPlanSettings {
  /** Beats a minute in the line's beat. */
  bpm: number;
  /** What of the line; none for the whole. */
  stretches: readonly Stretch[];
  way: RoomWay;
  countBars: number;
  subdivisions: 1 | 2 | 3 | 4;
  firstNote: FirstNote;
}

/** Where a bar of the line begins in a plan. */
export interface PlanBar {
  atSec: number;
  /** Place of the bar in the part, from 0. */
  bar: number;
  number: string;
  /** Beats of the bar, those before a pickup left out, and how long one lasts. */
  beats: number;
  firstBeat: number;
  beatSec: number;
}

export interface RoomPlan {
  plan: PlayAlong;
  bars: PlanBar[];
  /** From here on a loop goes round: the count-off, without the first note. */
  loopFromSec: number;
}

/** A bar or two is what beginners keep in the ear (common practice, no published source). */
const CALL_BARS = 2;

/**
 * What the room hears of a line or of some bars of it: first note, count-off, click and reference, with the place of every bar.
 * @throws RangeError for a tempo no line has, or bars this one has not
 */
export function roomPlan(score: Score, settings: RoomPlanSettings): RoomPlan {
  const line = joined(timeline(score, { bpm: settings.bpm }), settings.stretches);
  const options = {
    subdivisions: settings.subdivisions,
    startingNote: FIRST[settings.firstNote],
    countBars: settings.countBars,
    fermataHold: 1,
  };
  const calls = settings.way === "call";
  const plan = calls ? callAndResponse(line, CALL_BARS, options) : playAlong(line, options);
  const firstCount = plan.events.find(({ kind }) => kind === "count");
  return {
    plan,
    bars: calls ? barsByNote(line, plan) : barsOf(line, plan),
    loopFromSec: firstCount?.atSec ?? 0,
  };
}

function barsOf(line: Timeline, plan: PlayAlong): PlanBar[] {
  return line.measures.map((bar, i) => {
    const missing = i === 0 ? line.pickupOffsetQuarters / bar.beatQuarters : 0;
    return {
      atSec: plan.startSec + bar.onsetSec + heldBefore(line, bar.onsetSec),
      bar: bar.measureIndex,
      number: bar.number,
      beats: bar.durationQuarters / bar.beatQuarters,
      firstBeat: 1 + missing,
      beatSec: bar.beatQuarters * bar.secPerQuarter,
    };
  });
}

/** In call and response every bar comes twice: it is where its first notes are. */
function barsByNote(line: Timeline, plan: PlayAlong): PlanBar[] {
  const barOf = new Map(line.notes.map((note) => [note.eventId, note]));
  const bars = new Map(barsOf(line, plan).map((bar) => [bar.bar, bar]));
  const found: PlanBar[] = [];
  for (const event of plan.events) {
    const note = event.kind === "note" && event.eventId ? barOf.get(event.eventId) : undefined;
    const bar = note && bars.get(note.measureIndex);
    if (!bar || found.at(-1)?.bar === bar.bar) continue;
    found.push({ ...bar, atSec: event.atSec - (note.beat - bar.firstBeat) * bar.beatSec });
  }
  return found;
}

/** Fermatas are held once more their length. */
function heldBefore(line: Timeline, sec: number): number {
  const held = [...line.notes.filter(({ fermata }) => fermata), ...line.heldRests];
  return held.reduce(
    (sum, { onsetSec, durationSec }) => (onsetSec + durationSec <= sec + 1e-9 ? sum + durationSec : sum),
    0,
  );
}

/** Where the room is at a moment of a plan. */
export interface RoomMoment {
  /** Place of the bar that sounds; null before the line begins. */
  bar: number | null;
  /** Beat that sounds, from 1; in the count-off the count. */
  beat: number;
  /** Share of the beat that is over, 0 to 1: the sweep of the click. */
  share: number;
  counting: boolean;
}

/** @param sec  second of the plan */
export function roomMomentAt({ plan, bars }: RoomPlan, sec: number): RoomMoment {
  const bar = bars.findLast(({ atSec }) => atSec <= sec + 1e-6);
  if (bar) {
    const gone = Math.max(0, sec - bar.atSec) / bar.beatSec;
    const beat = Math.min(Math.ceil(bar.firstBeat + bar.beats) - 1, Math.floor(bar.firstBeat + gone + 1e-6));
    return { bar: bar.bar, beat, share: gone - Math.floor(gone + 1e-6), counting: false };
  }
  const counts = plan.events.filter(({ kind, atSec }) => kind === "count" && atSec <= sec + 1e-6);
  const at = counts.at(-1);
  if (!at) return { bar: null, beat: 0, share: 0, counting: false };
  const since = counts.findLastIndex(({ accent }) => accent);
  const beatSec = bars[0]?.beatSec ?? 1;
  return {
    bar: null,
    beat: counts.length - since,
    share: Math.min(1, (sec - at.atSec) / beatSec),
    counting: true,
  };
}
