import { groupBy } from "../lists";
import { type Instrument, pitchToMidi, type Stage } from "../music";
import type { Score } from "./model";
import { type Snag, type SnagOptions, snagsInTime } from "./snags";
import { timeline } from "./timeline";
import { vocabularyOf } from "./vocabulary";

/** How hard a part is for an instrument: the sum of its parts, each 0 and up; 1 is a first line, 10 the end of the second year. */
export interface Difficulty {
  total: number;
  parts: {
    rhythm: number;
    signs: number;
    speed: number;
    notes: number;
    range: number;
    key: number;
    snags: number;
    length: number;
  };
}

/** What each rhythm adds, from memory of the order in which beginners meet them. */
const RHYTHM_WEIGHTS: Record<string, number> = {
  "dotted half": 0.2,
  eighth: 0.6,
  tie: 0.3,
  "dotted quarter": 0.7,
  "eighth rest": 0.5,
  pickup: 0.3,
  triplet: 0.9,
  "16th": 1,
  "dotted eighth": 0.6,
  "16th rest": 0.7,
  "grace note": 0.5,
  "3/4": 0.2,
  "6/8": 0.8,
  "quarter rest": 0.1,
  "half rest": 0.05,
  half: 0.05,
  quarter: 0.15,
};

/** What each sign adds; keys and accidentals are weighed by themselves. */
const SIGN_WEIGHTS: Record<string, number> = {
  slur: 0.25,
  repeat: 0.1,
  "breath mark": 0.05,
  endings: 0.4,
  "D.C.": 0.4,
  "D.S.": 0.5,
  Coda: 0.3,
  fermata: 0.3,
  staccato: 0.3,
  accent: 0.3,
  tenuto: 0.2,
  marcato: 0.3,
  pp: 0.2,
  p: 0.25,
  mp: 0.2,
  mf: 0.1,
  f: 0.2,
  ff: 0.2,
};

/**
 * Difficulty of a written part for one instrument at a tempo.
 *
 * total = 0.3 + rhythm + signs + speed + notes + range + key + snags + length, where
 * - rhythm is the sum of RHYTHM_WEIGHTS over what the part uses, signs that of SIGN_WEIGHTS,
 * - speed is 0.45 for each attack a second beyond 1 in the busiest two bars,
 * - notes is 0.12 for each pitch beyond the first, at most 1.5: what has to be found on the instrument,
 * - range is 0.08 for each semitone of compass beyond a fifth,
 * - key is 0.25 for each sharp or flat beyond one, and 0.2 for each accidental, at most 1.5 together,
 * - snags are counted kind by kind with diminishing weight, since the tenth of a kind is no news: the gravest in full, the
 *   next half, the next a quarter and so on, 0.14 of the sum, at most 2.5; breath counts for nothing here,
 * - length is 0.03 for each played bar beyond four, at most 0.6.
 *
 * It never falls when the tempo rises, a note is added at the edge of the compass, or an accidental, rhythm or snag is
 * added. A scale of our own: weights from memory of common practice, no published source; the order it gives is checked
 * against tasks ordered by hand for each family of instruments and against the demo book.
 */
export function difficultyOf(
  part: Score,
  instrument: Instrument,
  stage: Stage,
  options: SnagOptions = {},
): Difficulty {
  const line = timeline(part, options.bpm === undefined ? {} : { bpm: options.bpm });
  const snags = snagsInTime(line, instrument, stage, options);
  const { rhythms, signs } = vocabularyOf(part);
  const midis = line.notes.flatMap((note) => (note.written ? [pitchToMidi(note.written)] : []));
  const compass = midis.length > 0 ? Math.max(...midis) - Math.min(...midis) : 0;
  const fifths = Math.max(...part.parts[0].measures.map((measure) => Math.abs(measure.key?.fifths ?? 0)));
  const accidentals = snags.filter((snag) => snag.kind === "accidental").length;
  const parts = {
    rhythm: rhythms.reduce((sum, rhythm) => sum + (RHYTHM_WEIGHTS[rhythm] ?? 0), 0),
    signs: signs.reduce((sum, sign) => sum + (SIGN_WEIGHTS[sign] ?? 0), 0),
    speed: 0.45 * Math.max(0, busiest(line) - 1),
    notes: Math.min(1.5, 0.12 * Math.max(0, new Set(midis).size - 1)),
    range: 0.08 * Math.max(0, compass - 7),
    key: Math.min(1.5, 0.25 * Math.max(0, fifths - 1) + 0.2 * accidentals),
    snags: Math.min(2.5, 0.14 * snagWeight(snags)),
    length: Math.min(0.6, 0.03 * Math.max(0, line.measures.length - 4)),
  };
  const round = (value: number) => Math.round(value * 100) / 100;
  const rounded = Object.fromEntries(
    Object.entries(parts).map(([name, value]) => [name, round(value)]),
  ) as Difficulty["parts"];
  return { total: round(0.3 + Object.values(parts).reduce((sum, value) => sum + value, 0)), parts: rounded };
}

/** Each kind of snag by itself: weights from the gravest on, each counting half as much as the one before. */
function snagWeight(snags: readonly Snag[]): number {
  const counted = snags.filter((snag) => snag.kind !== "accidental" && snag.kind !== "long-breath");
  return [...groupBy(counted, (snag) => snag.kind).values()].reduce((sum, kind) => {
    const weights = kind.map((snag) => snag.weight).sort((a, b) => b - a);
    return sum + weights.reduce<number>((all, weight, i) => all + weight / 2 ** i, 0);
  }, 0);
}

/** Most attacks a second over any two bars in a row. */
function busiest(line: ReturnType<typeof timeline>): number {
  const secPerQuarter = line.totalSec / line.totalQuarters;
  let most = 0;
  line.measures.forEach((measure, i) => {
    const next = line.measures[i + 1];
    const until = next
      ? next.onsetQuarters + next.durationQuarters
      : measure.onsetQuarters + measure.durationQuarters;
    const attacks = line.notes.filter(
      (note) => note.onsetQuarters >= measure.onsetQuarters - 1e-9 && note.onsetQuarters < until - 1e-9,
    ).length;
    most = Math.max(most, attacks / Math.max(0.1, (until - measure.onsetQuarters) * secPerQuarter));
  });
  return most;
}
