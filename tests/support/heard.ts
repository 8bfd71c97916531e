import type { Heard } from "../../src/core/listen/heard";
import type { Segment } from "../../src/core/listen/segments";
import type { SoundingNote } from "../../src/core/score";

/** A note heard as it is written, without blemish; what is given about it goes before. Runs are told apart by identity: give the same one. */
export function heardAs(
  note: SoundingNote,
  about: Pick<Heard, "run" | "onsetSec" | "offsetSec"> & Partial<Heard>,
): Heard {
  return {
    segment: { midi: note.midi } as Segment,
    segmentIndex: note.index,
    midi: note.midi,
    clarity: 1,
    oddDb: null,
    heldUntilSec: about.offsetSec,
    unbroken: false,
    sureAttack: true,
    cracked: false,
    corrected: null,
    squeaked: false,
    ...about,
  };
}
