import type { BalanceVoice } from "../music";
import type { Dynamic } from "../score";
import type { Families } from "./block";
import { degreePitch, note, type Plain, repeatNotes } from "./notes";
import type { Plan } from "./segment";

type Voice = Exclude<BalanceVoice, "none">;

/** Scale degrees of our own chorale, six half notes and two whole ones: I IV I V, vi IV V I. Bass lowest; 0 and below lie under the tonic. */
export const CHORALE: Record<Voice, readonly number[]> = {
  soprano: [10, 11, 10, 9, 8, 8, 7, 8],
  alto: [8, 8, 8, 7, 6, 6, 5, 5],
  tenor: [5, 6, 5, 5, 3, 4, 2, 3],
  bass: [1, 4, 1, 5, 6, 4, 5, 1].map((degree) => degree - 7),
};

/** The low voices are the base; each higher one is softer than the one below (common practice, no published source). */
const BALANCE: Record<Voice, Dynamic> = { soprano: "p", alto: "mp", tenor: "mf", bass: "f" };

/** The chorale for one balance voice, or its melody for everybody. Drums follow the bass with soft strokes. */
export function choralePlan({ fifths, voices, rounds }: Families["chorale"], voice: BalanceVoice): Plan {
  const own = voices === "unison" ? "soprano" : voice === "none" ? "bass" : voice;
  const level = BALANCE[voice === "none" ? "bass" : voice];
  const degrees = CHORALE[own];
  const notes = degrees.map(
    (degree, i): Plain => ({
      ...note(degreePitch(fifths, degree), i < 6 ? "2" : "4"),
      ...(i === 0 ? { dynamic: level } : {}),
      ...(i === 3 ? { breath: true as const } : {}),
    }),
  );
  return { segments: [{ fifths, forms: [repeatNotes(notes, rounds)] }] };
}
