import type { SoundingNote } from "../score";
import type { Heard, Run } from "./heard";
import { median } from "./statistics";
import type { TakeBreak } from "./types";

/**
 * A gap this much longer than the player's own beat asks for is a hesitation, and one so much shorter over notes that were left out is a
 * skip: seconds, beats, and times what was due.
 */
const HESITATION = { sec: 0.4, beats: 0.75, times: 1.45 };
/**
 * It is told where such a share of it is silent, or where the note before it is held on into the next, to within so many seconds: else
 * something was played there that was matched with nothing ("breaks" of the combined bench: 12 takes with one that was none instead of 15,
 * 135 with one that was told instead of 136).
 */
const TOLD = { silentShare: 0.6, heldSec: 0.1 };

/**
 * Begins a new run after every hesitation, so that one pause does not make the notes around it late, and after every skip, so that bars
 * which were left out make none of their neighbours early.
 *
 * @param beatQuarters  quarters of a beat of the line
 * @returns the same notes in the runs they belong to, and the hesitations between them
 */
export function splitAtHesitations(
  heard: readonly (Heard | undefined)[],
  notes: readonly SoundingNote[],
  beatQuarters: number,
): { heard: (Heard | undefined)[]; hesitations: TakeBreak[] } {
  const secPerQuarter = usualPace(heard, notes);
  const least = Math.max(HESITATION.sec, HESITATION.beats * beatQuarters * secPerQuarter);
  const hesitations: TakeBreak[] = [];
  let run: Run | undefined;
  let before = -1;
  let part = 0;
  const split = heard.map((each, i) => {
    if (!each) return each;
    const previous = heard[before];
    if (previous && previous.run === each.run) {
      const due = (notes[i]!.onsetQuarters - notes[before]!.onsetQuarters) * secPerQuarter;
      const apart = each.onsetSec - previous.onsetSec;
      if (
        !each.unbroken &&
        !notes[before]!.fermata &&
        apart - due > least &&
        apart > HESITATION.times * due
      ) {
        part++;
        const seconds = apart - due;
        const silent = each.onsetSec - previous.offsetSec >= TOLD.silentShare * seconds;
        const heldOn = previous.segment.offsetSec >= each.onsetSec - TOLD.heldSec;
        if (silent || heldOn)
          hesitations.push({
            kind: "hesitation",
            atSec: previous.onsetSec + due,
            seconds,
            measure: notes[i]!.measure,
          });
      } else if (i > before + 1 && due - apart > least && due > HESITATION.times * apart) part++;
    }
    before = i;
    if (run?.pass !== each.run.pass || run.part !== part) run = { pass: each.run.pass, part };
    return { ...each, run };
  });
  return { heard: split, hesitations };
}

/** Seconds a quarter from one heard note to the next, the middle one: a pause does not change it. */
function usualPace(heard: readonly (Heard | undefined)[], notes: readonly SoundingNote[]): number {
  const paces: number[] = [];
  heard.forEach((each, i) => {
    const previous = heard[i - 1];
    if (!each || !previous || each.unbroken || previous.run !== each.run) return;
    paces.push((each.onsetSec - previous.onsetSec) / (notes[i]!.onsetQuarters - notes[i - 1]!.onsetQuarters));
  });
  return median(paces);
}
