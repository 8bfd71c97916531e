import type { SoundingNote } from "../score";
import type { OwnBeat } from "./beat";
import type { Heard } from "./heard";
import { median } from "./statistics";
import type { NoteVerdict } from "./types";

/** What counts as out of time where nothing else is set, ms. */
const USUAL_LIMIT_MS = 70;
/**
 * A note is called early or late where it stands out of the take: by so many times the spread of all its notes, more where its attack is
 * soft and may be misplaced. Without it half of such words were wrong ("F1 of time" of the combined bench).
 */
const STANDS_OUT = { spreads: 2.6 };
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
    return { timing: timingMs < -limit ? "early" : timingMs > limit ? "late" : "ok", timingMs };
  });
}
