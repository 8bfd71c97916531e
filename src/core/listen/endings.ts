import type { SoundingNote } from "../score";
import type { OwnBeat } from "./beat";
import type { Features } from "./features";
import { type Heard, soundingBeside } from "./heard";
import { isShort } from "./lengths";
import { soundsUntil } from "./partials";

/** Notes within these shares of their written length are believed; others are looked at again, up to a share of it and so much beyond, seconds. */
const BELIEVED = { least: 0.6, most: 1.4 };
const LOOK = { share: 1.1, beyondSec: 0.4 };
/**
 * A note that is to be short sounds surely for such a share of its length, and is over where its partials are so many dB below that: a room
 * rings on at once ("staccato notes told as long" of the marks bench).
 */
const OF_SHORT = { bodyShare: 0.3, withinDb: 6 };

/**
 * Looks again at notes that seem cut short or held too long: a voice next door or a gust ends the pitch of a note that goes on, and a room
 * rings on after one that has ended ("length" of the combined bench: three of four such words came from these).
 *
 * @param heard  by note; undefined for what was missed
 * @param beat   the player's own
 * @returns the same notes, with how long they were held
 */
export function endAgain(
  notes: readonly SoundingNote[],
  heard: readonly (Heard | undefined)[],
  beat: OwnBeat,
  features: Features,
  tuning: number,
): (Heard | undefined)[] {
  return heard.map((each, i) => {
    const note = notes[i]!;
    if (!each || each.unbroken || each.midi === null || note.fermata || features.midi.length === 0)
      return each;
    const next = heard[i + 1];
    const nextSec = next && next.onsetSec > each.onsetSec ? next.onsetSec : Number.POSITIVE_INFINITY;
    const written = note.durationQuarters * beat.rateAt(note.onsetQuarters, each.run);
    const ratio = (Math.min(each.offsetSec, nextSec) - each.onsetSec) / written;
    const short = isShort(note);
    if (!(written > 0) || (ratio >= BELIEVED.least && ratio <= BELIEVED.most && !short)) return each;
    const limit = Math.min(
      features.durationSec,
      nextSec,
      Math.max(each.offsetSec, each.onsetSec + LOOK.share * written) + LOOK.beyondSec,
    );
    const body = short ? OF_SHORT.bodyShare * written : written;
    const until = soundsUntil(
      features.sound,
      each.midi + tuning,
      soundingBeside(heard, i, tuning),
      [each.onsetSec, Math.min(each.offsetSec, each.onsetSec + body), limit],
      short ? OF_SHORT.withinDb : undefined,
    );
    if (until === null) return each;
    const bound = ratio < 1 && !short ? Math.max : Math.min;
    return { ...each, heldUntilSec: bound(each.offsetSec, until) };
  });
}
