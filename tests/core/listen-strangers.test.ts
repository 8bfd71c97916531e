import { describe, expect, it } from "vitest";
import type { Features } from "../../src/core/listen/features";
import type { Segment } from "../../src/core/listen/segments";
import { withoutStrangers } from "../../src/core/listen/strangers";
import { timeline } from "../../src/core/score";
import { heardAs } from "../support/heard";
import { line } from "../support/music";

const { notes } = timeline(line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:1 Eb5:1 D5:1 C5:1 | Bb4:4", { bpm: 60 }));
const HOP_SEC = 0.005;
const ASKED = 6;
const RUN = { pass: 0, part: 0 };

interface Sound {
  levelDb?: number;
  glide?: number;
  spread?: number;
  /** Away from the written pitch, semitones. */
  away?: number;
}

/** Whether one note is still heard, played so among loud ones; those beside it are left out or not. */
function isKept({ levelDb = -20, glide = 0, spread = 0.03, away = 0 }: Sound, besideMissed: boolean) {
  const outlineDb = new Float32Array(12 / HOP_SEC).fill(-60);
  const heard = notes.map((note, i) => {
    if (besideMissed && Math.abs(i - ASKED) === 1) return undefined;
    const { onsetSec } = note;
    const own = i === ASKED;
    outlineDb.fill(own ? levelDb : -20, onsetSec / HOP_SEC, (onsetSec + 0.8) / HOP_SEC);
    const segment = { midi: note.midi, glide: own ? glide : 0, spread: own ? spread : 0.03 } as Segment;
    const midi = note.midi! + (own ? away : 0);
    return heardAs(note, { segment, midi, run: RUN, onsetSec, offsetSec: onsetSec + 0.8 });
  });
  const features = { outlineDb, fineHopSec: HOP_SEC, midi: new Float32Array(1) } as Features;
  return withoutStrangers(notes, heard, features)[ASKED] !== undefined;
}

const VOICE = { levelDb: -33, glide: 4, spread: 0.25 };

describe("whose a sound is", () => {
  it.each([
    ["a right pitch, softly and gliding, with nothing played beside it", VOICE, true],
    ["another pitch, softly", { levelDb: -33, away: 3 }, false],
    ["another pitch, gliding", { glide: 5, away: 3 }, false],
  ])("is somebody else's: %s", (_what, sound, besideMissed) => {
    expect(isKept(sound, besideMissed)).toBe(false);
  });

  it.each([
    ["a right pitch that is held softly between two that were left out", { levelDb: -36, glide: 1.5 }, true],
    ["a right pitch that slides softly, among notes that were played", VOICE, false],
    ["another pitch as loud as the notes", { away: 3 }, true],
  ])("is the player's: %s", (_what, sound, besideMissed) => {
    expect(isKept(sound, besideMissed)).toBe(true);
  });
});
