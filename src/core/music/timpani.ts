import { midisOf, type Range } from "./instruments";
import { midiToPitch, type Pitch } from "./pitch";

/** Two drums tuned for a key. */
export interface TunedDrums {
  tonic: Pitch;
  dominant: Pitch;
}

/**
 * Tonic and dominant of a key on two of the drums at hand, each on a drum of its own; the pair that needs the least
 * tension, nearest the middle of its drums, is taken.
 *
 * @param drums  lowest and highest note of each, scientific pitch notation
 * @param tonic  MIDI number of the tonic in any octave
 * @returns null when the drums cannot be tuned to both
 * @example
 * // B♭ major on the two middle drums: B♭2 on the lower, F3 on the upper one.
 * Object.values(tuneDrums([["F2", "C3"], ["Bb2", "F3"]], 58)).map((note) => pitchName(note)) // => ["B♭2", "F3"]
 */
export function tuneDrums(drums: readonly Range[], tonic: number): TunedDrums | null {
  const onDrum = (drum: number, midi: number) => {
    const [low, high] = midisOf(drums[drum]!);
    return [0, 1, 2, 3, 4, 5, 6]
      .map((octave) => (midi % 12) + 12 * octave)
      .filter((note) => note >= low && note <= high)
      .map((note) => ({ drum, note, strain: Math.abs(note - (low + high) / 2) / (high - low) }));
  };
  const all = drums.map((_, drum) => drum);
  const pairs = all
    .flatMap((drum) => onDrum(drum, tonic))
    .flatMap((low) =>
      all
        .flatMap((drum) => onDrum(drum, tonic + 7))
        .filter((other) => other.drum !== low.drum)
        .map((other) => ({ tonic: low.note, dominant: other.note, strain: low.strain + other.strain })),
    )
    .sort((a, b) => a.strain - b.strain || a.tonic - b.tonic);
  const [best] = pairs;
  return best ? { tonic: midiToPitch(best.tonic), dominant: midiToPitch(best.dominant) } : null;
}

/** Semitones above the tonic over which the tonic drum sounds well (third, fourth, sixth, octave), and the dominant drum. */
const WITH_TONIC = new Set([0, 3, 4, 5, 8, 9]);
const WITH_DOMINANT = new Set([2, 7, 10, 11]);

/**
 * The drum that sounds well under a note of the key: the tonic under 1, 3, 4 and 6, the dominant under 2, 5 and 7; null
 * for a note that neither goes with.
 * @param above  semitones from the tonic to the note
 */
export function drumUnder(drums: TunedDrums, above: number): Pitch | null {
  const degree = ((above % 12) + 12) % 12;
  if (WITH_TONIC.has(degree)) return drums.tonic;
  return WITH_DOMINANT.has(degree) ? drums.dominant : null;
}
