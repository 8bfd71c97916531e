import type { SoundingNote } from "../score";
import type { OwnBeat } from "./beat";
import type { Heard } from "./heard";
import { median } from "./statistics";
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
/** From the median distance to a standard deviation, for errors as they are usually spread. */
const TO_DEVIATION = 1.4826;

/** When a note was played against the player's own beat, + is late. */
export interface Timing {
  timing: NoteVerdict["timing"];
  timingMs: number | null;
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
): Timing[] {
  const off = notes.map((note, i) => {
    const [own, point] = [heard[i], pointOf.get(i)];
    if (!own || point === undefined || note.fermata) return null;
    return Math.round((own.onsetSec - beat.timeAt(note.onsetQuarters, own.run, point)) * 1000);
  });
  const spread = TO_DEVIATION * median(off.flatMap((ms) => (ms === null ? [] : [Math.abs(ms)])));
  return off.map((timingMs, i): Timing => {
    if (timingMs === null) return { timing: null, timingMs };
    if (!heard[i]!.sureAttack) return { timing: "ok", timingMs };
    const limit = Math.max(limitMs, STANDS_OUT.spreads * spread);
    if (Math.abs(timingMs) > limit && !standsAlone(heard, off, i)) return { timing: "ok", timingMs };
    return { timing: timingMs < -limit ? "early" : timingMs > limit ? "late" : "ok", timingMs };
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
