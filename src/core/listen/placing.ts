import type { SoundingNote } from "../score";
import type { OwnBeat } from "./beat";
import type { Features } from "./features";
import { type Heard, soundingBeside } from "./heard";
import { partialRise } from "./partials";

/**
 * A note so far off its beat is looked at again, seconds; its partials have to rise by so many dB to say when it began, and agree with where it
 * was found within so much; it moves only if it comes nearer to its beat by this; other attacks and its end are so far away ("early and
 * late" of the combined bench: three in four of such words came from a sound before the note, or from its second half).
 */
const AGAIN = { offSec: 0.06, riseDb: 18, agreesSec: 0.05, nearerSec: 0.03, apartSec: 0.05 };
/** Where no partial is the note's own, an attack this marked is believed, dB. */
const MARKED_DB = 12;

/**
 * Looks again at notes that seem out of time: where a note's own partials say that it began near its beat, it did.
 *
 * @param heard  by note; undefined for what was missed
 * @param beat   the player's own, through the same notes
 * @returns the same notes, some begun elsewhere, and each with whether its attack is sure
 */
export function placeAgain(
  notes: readonly SoundingNote[],
  heard: readonly (Heard | undefined)[],
  beat: OwnBeat,
  features: Features,
  tuning: number,
): (Heard | undefined)[] {
  return heard.map((each, i) => {
    if (!each || each.unbroken || each.midi === null || features.midi.length === 0) return each;
    const due = beat.timeAt(notes[i]!.onsetQuarters, each.run);
    const off = Math.abs(each.onsetSec - due);
    if (off < AGAIN.offSec) return each;
    const risesNear = (sec: number) =>
      partialRise(features.sound, each.midi! + tuning, soundingBeside(heard, i, tuning), sec);
    const agrees = (sec: number) => Math.abs(sec - each.onsetSec) <= AGAIN.agreesSec;
    const rise = risesNear(due);
    if (!rise) return { ...each, sureAttack: each.segment.attackDb >= MARKED_DB };
    if (rise.riseDb < AGAIN.riseDb) {
      // It did not begin near its beat; perhaps plainly where it was found.
      const own = risesNear(each.onsetSec);
      return { ...each, sureAttack: own !== null && own.riseDb >= AGAIN.riseDb && agrees(own.sec) };
    }
    const before = heard.slice(0, i).findLast(Boolean);
    const free =
      rise.sec > (before?.onsetSec ?? -1) + AGAIN.apartSec && rise.sec < each.offsetSec - AGAIN.apartSec;
    if (free && Math.abs(rise.sec - due) < off - AGAIN.nearerSec) return { ...each, onsetSec: rise.sec };
    return { ...each, sureAttack: agrees(rise.sec) };
  });
}
