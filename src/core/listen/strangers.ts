import type { SoundingNote } from "../score";
import type { Features } from "./features";
import type { Heard } from "./heard";
import { noteLevels } from "./second-listening";
import { median } from "./statistics";

/**
 * What makes a sound at another pitch than the note's somebody else's, in the looked-at takes of the combined bench (of 347 wrong notes
 * that were really played, and 33 notes that were missed while something else sounded): so much softer than the take's notes (5 and 23),
 * a semitone away (3 and 4) or further; a pitch that glides as a voice does, semitones a second (7 and 18); further away than anybody
 * misses a note by, semitones (none and 8).
 */
const STRANGE = { softerDb: 6, nearSofterDb: 9, near: 1.5, glide: 3, furthest: 13 };

/**
 * A voice meets a right pitch by chance when the player has stopped: softer than the take's notes, gliding, and nothing of the player's beside it (of
 * 5,490 right notes none, of 19 that were left out and found by chance two).
 */
const BY_CHANCE = { softerDb: 9, glide: 1, spread: 0.1 };

/**
 * Leaves out what was heard as a note and is hardly the player's: at another pitch, and soft, gliding or far away; at its own pitch only where
 * nothing of the player's sounds beside it. A television stands for no wrong note.
 *
 * @param heard  by note; undefined for what was missed
 * @returns the same with undefined in their place
 */
export function withoutStrangers(
  notes: readonly SoundingNote[],
  heard: readonly (Heard | undefined)[],
  features: Features,
): (Heard | undefined)[] {
  const levels = noteLevels(
    heard.map((each) => ({ onset: each?.onsetSec ?? null, offset: each?.offsetSec ?? null })),
    features,
  );
  const usualDb = median(levels.filter((level) => level !== null));
  const isSoft = (levelDb: number) => levelDb < usualDb - BY_CHANCE.softerDb;
  return heard.map((each, i) => {
    const { midi: written } = notes[i]!;
    if (!each || written === null || each.midi === null || features.midi.length === 0) return each;
    const away = Math.abs(each.midi - written);
    const softer = usualDb - levels[i]!;
    if (away < RIGHT) {
      const alone = [i - 1, i + 1].every((beside) => !heard[beside] || isSoft(levels[beside]!));
      const { glide, spread } = each.segment;
      const glides = Math.abs(glide) > BY_CHANCE.glide && spread > BY_CHANCE.spread;
      return alone && softer > BY_CHANCE.softerDb && glides ? undefined : each;
    }
    const strange =
      softer > (away < STRANGE.near ? STRANGE.nearSofterDb : STRANGE.softerDb) ||
      Math.abs(each.segment.glide) > STRANGE.glide ||
      away > STRANGE.furthest;
    return strange ? undefined : each;
  });
}
/** Nearer than this it is the note, semitones. */
const RIGHT = 0.6;
