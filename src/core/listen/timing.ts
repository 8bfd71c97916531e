import type { SoundingNote } from "../score";
import type { OwnBeat } from "./beat";
import type { Heard } from "./heard";
import { median } from "./statistics";
import { type Step, stepsOf } from "./steps";
import type { NoteVerdict } from "./types";

/** What counts as out of time where nothing else is set, ms. */
const USUAL_LIMIT_MS = 70;
/**
 * A note is called early or late where it stands out of the take, by so many times the spread of all its notes, and out of its neighbours,
 * which are off by no more than such a share of it; after so long a silence, seconds, only where its attack is this marked, dB: a soft
 * start out of nothing is heard late, something before it early ("F1 of time" of the combined bench: without the spread half of such words
 * were wrong, without the neighbours and the silence 83 of 150, with all 8 of 60).
 */
const STANDS_OUT = { spreads: 2.6, neighbours: 0.5, silenceSec: 0.12, attackDb: 16 };
/**
 * Half of a take's attacks lie further from the player's own beat than this share of a quarter: the rhythm itself is uneven, and what is out
 * of time is called that though nothing stands out. Of 180 takes with everything at once (unsteady tempi, rooms, soft attacks) none had more
 * than 0.087; so many sure attacks at least, and so much of what a note may be off ("random strokes" of the tests: without it they were all
 * in time).
 */
const UNEVEN = { share: 0.1, leastNotes: 8, ofLimit: 0.6 };
/**
 * What is in time by the beat is told by the gap before it as well: one that is off by so many times what a note may be, by so many times the
 * spread of all gaps (which counts up to so many limits), and by such a share of itself (a beat that runs away changes a long gap more; where
 * there are too few around, a larger share or none will do). Strokes begin where they are heard; of notes with a pitch only plain attacks are
 * asked, and not the second of a run ("strokes", and "F1 of time" of the combined bench, which stays where it is).
 */
const GAPS = {
  strokes: { limits: 1.4, spreads: 2.6, spreadLimits: 2.1, ofGap: 0.15, ofGapOfFew: 0.25, plainDb: null },
  notes: { limits: 2.2, spreads: 4, spreadLimits: Infinity, ofGap: 0.22, ofGapOfFew: Infinity, plainDb: 10 },
};
/** A stroke that is out of its place is told once: the next gap makes up for this share of the one before it. */
const MADE_UP = 0.5;
/** The spread of strokes is the player's own, not the ear's: it widens what one may be off by no more than this. */
const WIDEST_OF_STROKES = 1.5;
/** A gap holds the errors of both its ends. */
const ENDS = Math.SQRT2;
/** From the median distance to a standard deviation, for errors as they are usually spread. */
const TO_DEVIATION = 1.4826;

/** When a note was played against the player's own beat, + is late. */
export interface Timing {
  timing: NoteVerdict["timing"];
  timingMs: number | null;
}

/** When the notes of a take were played, and how far from its own beat. */
export interface Timings {
  notes: Timing[];
  /** The middle distance of an attack from the beat, as a share of a quarter; 0 where there are too few to say. */
  offBeat: number;
  uneven: boolean;
}

/**
 * @param heard    by note; undefined for what was missed
 * @param pointOf  the place of a note among the points of the beat
 */
export function timingsOf(
  notes: readonly SoundingNote[],
  heard: readonly (Heard | undefined)[],
  beat: OwnBeat,
  pointOf: ReadonlyMap<number, number>,
  limitMs = USUAL_LIMIT_MS,
): Timings {
  const off = notes.map((note, i) => {
    const [own, point] = [heard[i], pointOf.get(i)];
    if (!own || point === undefined || note.fermata) return null;
    return Math.round((own.onsetSec - beat.timeAt(note.onsetQuarters, own.run, point)) * 1000);
  });
  const middle = middleDistance(off);
  const strokes = notes.every(({ midi }) => midi === null);
  const steps = stepsOf(notes, heard);
  const sure = off.map((ms, i) => (heard[i]?.sureAttack ? ms : null));
  const few = sure.filter((ms) => ms !== null).length < UNEVEN.leastNotes;
  const shareOf = (ms: number) => (few ? 0 : ms / 1000 / beat.secPerQuarter);
  const usual = strokes ? middleStep(steps) / ENDS : middleDistance(sure);
  const uneven = shareOf(usual) >= UNEVEN.share && usual >= UNEVEN.ofLimit * limitMs;
  const widest = STANDS_OUT.spreads * TO_DEVIATION * (uneven ? 0 : middle);
  const limit = Math.max(limitMs, strokes ? Math.min(widest, WIDEST_OF_STROKES * limitMs) : widest);
  const timings = off.map((timingMs, i): Timing => {
    if (timingMs === null) return { timing: null, timingMs };
    if (!heard[i]!.sureAttack || Math.abs(timingMs) <= limit) return { timing: "ok", timingMs };
    if (!uneven && !standsAlone(heard, off, i)) return { timing: "ok", timingMs };
    return { timing: timingMs < 0 ? "early" : "late", timingMs };
  });
  return {
    notes: uneven ? timings : byGaps(timings, steps, heard, limitMs, strokes ? GAPS.strokes : GAPS.notes),
    offBeat: shareOf(middle),
    uneven,
  };
}

const middleDistance = (all: readonly (number | null)[]) =>
  median(all.flatMap((ms) => (ms === null ? [] : [Math.abs(ms)])));

const middleStep = (steps: readonly (Step | null)[]) =>
  middleDistance(steps.map((step) => step?.offMs ?? null));

/** What is in time by the beat is early or late where the gap before it is off, and the next one does not make up for it. */
function byGaps(
  timings: readonly Timing[],
  steps: readonly (Step | null)[],
  heard: readonly (Heard | undefined)[],
  limitMs: number,
  how: (typeof GAPS)["strokes" | "notes"],
): Timing[] {
  const spread = how.spreads * TO_DEVIATION * middleStep(steps);
  const limit = Math.max(how.limits * limitMs, Math.min(spread, how.spreadLimits * limitMs));
  const isPlain = (i: number) => {
    const { plainDb } = how;
    const each = heard[i];
    return plainDb === null || (each?.sureAttack && !each.unbroken && each.segment.attackDb >= plainDb);
  };
  return timings.map((own, i): Timing => {
    const step = steps[i];
    if (!step || own.timing !== "ok" || !isPlain(i) || !isPlain(i - 1)) return own;
    if (how.plainDb !== null && !steps[i - 1]) return own;
    const { offMs, dueMs, sure } = step;
    if (Math.abs(offMs) <= Math.max(limit, (sure ? how.ofGap : how.ofGapOfFew) * dueMs)) return own;
    // The way back from one that was out of its place.
    if (timings[i - 1]?.timing === (offMs < 0 ? "late" : "early")) return own;
    const next = steps[i + 1]?.offMs ?? 0;
    if (Math.sign(next) === -Math.sign(offMs) && Math.abs(next) >= MADE_UP * Math.abs(offMs)) return own;
    return { timing: offMs < 0 ? "early" : "late", timingMs: offMs };
  });
}

/** Whether a note lies between two of its run that are in time, and is surely begun where it was found. */
function standsAlone(
  heard: readonly (Heard | undefined)[],
  off: readonly (number | null)[],
  index: number,
): boolean {
  const [before, own, next] = [heard[index - 1], heard[index]!, heard[index + 1]];
  if (before?.run !== own.run || next?.run !== own.run) return false;
  const most = STANDS_OUT.neighbours * Math.abs(off[index]!);
  const calm = [off[index - 1], off[index + 1]].every((ms) => ms != null && Math.abs(ms) <= most);
  const silenceSec = own.onsetSec - Math.max(before.offsetSec, before.heldUntilSec);
  return calm && (silenceSec < STANDS_OUT.silenceSec || own.segment.attackDb >= STANDS_OUT.attackDb);
}
