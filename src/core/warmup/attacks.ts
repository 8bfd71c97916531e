import { isBlown } from "../music";
import { type Articulation, fractionToNumber } from "../score";
import type { Families, Sign, Value } from "./block";
import { concertPitch, note, type Plain, quartersOf, repeatNotes, rest } from "./notes";
import type { Plan, Segment } from "./segment";

const SIGNS: Record<Sign, Articulation[]> = {
  plain: [],
  accent: ["accent"],
  staccato: ["staccato"],
  marcato: ["strong-accent"],
  tenuto: ["tenuto"],
};

/** One note in one style of attack after another, a rest of four counts between the styles. */
export function articulationPlan(settings: Families["articulation"]): Plan {
  const pitch = concertPitch(settings.note);
  const styles = settings.signs.map((sign): Segment => {
    const articulations = SIGNS[sign];
    const notes = evenNotes(settings.value, settings.countsEach).map(
      (duration): Plain => ({
        ...note(pitch, duration),
        ...(articulations.length > 0 ? { articulations } : {}),
      }),
    );
    return { fifths: "as-on-charts", forms: [[...notes, ...rest(4)]], words: sign };
  });
  return { segments: Array.from({ length: settings.rounds }, () => styles).flat() };
}

const DRILL_WORDS: Record<Families["tonguing"]["drill"], { blown: string; others: string }> = {
  "one-breath": {
    blown: "one unbroken breath, only the tongue moves",
    others: "even strokes, close together",
  },
  "stopped-air": {
    blown: "the tongue stops the air, the breath keeps pushing",
    others: "stop the sound at once, hands stay ready",
  },
  "released-air": {
    blown: "air waits behind the tongue, the tongue lets it go",
    others: "be ready early, then one clear stroke",
  },
};

/** Eight counts in each value: on one breath, with the air stopped by the tongue, or let go by it. */
export function tonguingPlan(settings: Families["tonguing"]): Plan {
  const pitch = concertPitch(settings.note);
  const rows = settings.values.flatMap((value): Plain[] => {
    const lengths = evenNotes(value, 8);
    if (settings.drill === "one-breath")
      return [
        ...lengths.map((duration): Plain => ({ ...note(pitch, duration), articulations: ["tenuto"] })),
        ...rest(4),
      ];
    // Every second place is silent: the air is stopped there, or waits.
    return [
      ...lengths.map(
        (duration, i): Plain =>
          i % 2 === 1
            ? { kind: "rest", duration }
            : {
                ...note(pitch, duration),
                articulations: settings.drill === "stopped-air" ? ["tenuto"] : ["accent"],
              },
      ),
      ...rest(4),
    ];
  });
  return {
    segments: [
      {
        fifths: "as-on-charts",
        forms: [repeatNotes(rows, settings.rounds)],
        words: (instrument) => DRILL_WORDS[settings.drill][isBlown(instrument) ? "blown" : "others"],
      },
    ],
  };
}

/** As many equal values as fill so many counts. */
function evenNotes(value: Value, counts: number): string[] {
  const duration = quartersOf(value);
  return Array.from({ length: Math.max(1, Math.floor(counts / fractionToNumber(duration))) }, () => duration);
}
