import { type BalanceVoice, pitchToMidi } from "../music";
import type { Dynamic } from "../score";
import type { Families } from "./block";
import { degreePitch, note, type Plain, repeatNotes } from "./notes";
import type { Plan } from "./segment";

type Voice = Exclude<BalanceVoice, "none">;

/**
 * Scale degrees of our own chorale, six half notes and two whole ones: I IV I V, vi IV V I. 1 to 8 lie above the tonic of
 * the bass, 0 and below under it. The melody keeps to the first five notes, so that everybody can play it in unison.
 */
export const CHORALE: Record<Voice, readonly number[]> = {
  soprano: [10, 11, 10, 9, 8, 11, 9, 8],
  alto: [8, 8, 8, 7, 8, 8, 7, 8],
  tenor: [5, 6, 5, 5, 3, 6, 5, 3],
  bass: [1, 4, 1, -2, -1, 4, -2, 1],
};

/** Octaves away from the written pitch in which a voice may sound without crossing another. */
const OCTAVES: Record<Voice, readonly number[]> = {
  soprano: [0, 1, 2, 3],
  alto: [0],
  tenor: [0],
  bass: [0, -1],
};

/** The bass begins between A♭2 and G3. */
const LOWEST_TONIC = 44;

/** The low voices are the base; each higher one is softer than the one below (common practice, no published source). */
const BALANCE: Record<Voice, Dynamic> = { soprano: "p", alto: "mp", tenor: "mf", bass: "f" };

/** The chorale for one balance voice, or its melody for everybody. Drums follow the bass with soft strokes. */
export function choralePlan({ fifths, voices, rounds }: Families["chorale"], voice: BalanceVoice): Plan {
  const own = voices === "unison" ? "soprano" : voice === "none" ? "bass" : voice;
  const level = BALANCE[voice === "none" ? "bass" : voice];
  const tonic = pitchToMidi(degreePitch(fifths, 1));
  const down = Math.floor((tonic - LOWEST_TONIC) / 12);
  const notes = CHORALE[own].map(
    (degree, i): Plain => ({
      ...note(degreePitch(fifths, degree - 7 * down), i < 6 ? "2" : "4"),
      ...(i === 0 ? { dynamic: level } : {}),
      ...(i === 3 ? { breath: true as const } : {}),
    }),
  );
  return {
    segments: [
      {
        fifths,
        forms: [repeatNotes(notes, rounds)],
        ...(voices === "harmony" ? { octaves: OCTAVES[own] } : {}),
      },
    ],
  };
}
