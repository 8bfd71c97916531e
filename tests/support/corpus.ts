import { engraveShorthand, LINES, SNARE_LINE } from "../../src/core/book";
import type { Measure, Score } from "../../src/core/score";
import { line } from "./music";

/** Bars with a tune of their own, so that a wrong order never looks right; signs by bar number from 1. */
function built(
  title: string,
  bars: string[],
  signs: Record<number, Partial<Measure>> = {},
  about: Parameters<typeof line>[1] = {},
): { title: string; score: Score } {
  const score = line(bars.join(" | "), { title, ...about });
  for (const [bar, sign] of Object.entries(signs))
    Object.assign(score.parts[0].measures[Number(bar) - 1]!, sign);
  return { title, score };
}

const SCALE = ["Bb4", "C5", "D5", "Eb5", "F5", "G5", "A5", "Bb5"];
/** The n-th bar: four quarters from a place in the scale that no other bar begins on. */
const bar = (n: number, beats = 4) =>
  Array.from({ length: beats }, (_, i) => `${SCALE[(n * 3 + i * (1 + (n % 2))) % 8]}:1`).join(" ");
const bars = (count: number, beats = 4) => Array.from({ length: count }, (_, n) => bar(n, beats));
const from = { repeatStart: true } as const;
const again = { repeatEnd: { times: 2 } } as const;
const ending = (passes: number[], ...marks: ("start" | "stop")[]): Pick<Measure, "ending"> => ({
  ending: { passes, ...Object.fromEntries(marks.map((mark) => [mark, true])) },
});

/** Lines of the demo book and nasty combinations of everything the model holds: what other readers are compared on. */
export const CORPUS: { title: string; score: Score }[] = [
  ...[...LINES, SNARE_LINE].map((book) => ({ title: book.title, score: engraveShorthand(book) })),
  built("a repeat from the start", bars(4), { 3: again }),
  built("a repeat from the middle", bars(5), { 2: from, 3: again }),
  built("two repeats side by side", bars(6), { 2: again, 3: from, 5: again }),
  built("one bar repeated", bars(3), { 2: { ...from, ...again } }),
  built("a repeat of everything to the end", bars(2), { 2: again }),
  built("two endings", bars(5), {
    1: from,
    3: { ...ending([1], "start", "stop"), ...again },
    4: ending([2], "start", "stop"),
  }),
  built("endings of two bars", bars(7), {
    2: from,
    4: ending([1], "start"),
    5: { ...ending([1], "stop"), ...again },
    6: ending([2], "start"),
    7: ending([2], "stop"),
  }),
  built("endings without a sign where the repeat begins", bars(4), {
    2: { ...ending([1], "start", "stop"), ...again },
    3: ending([2], "start", "stop"),
  }),
  built("endings in the second section only", bars(7), {
    2: again,
    3: from,
    5: { ...ending([1], "start", "stop"), ...again },
    6: ending([2], "start", "stop"),
  }),
  built("D.C.", bars(4), { 4: { jump: "da-capo" } }),
  built("D.C. al Fine", bars(5), { 2: { fine: true }, 5: { jump: "da-capo" } }),
  built("D.C. al Coda", bars(6), { 2: { toCoda: true }, 4: { jump: "da-capo" }, 5: { coda: true } }),
  built("D.S. al Fine", bars(6), { 2: { segno: true }, 4: { fine: true }, 6: { jump: "dal-segno" } }),
  built("D.S. al Coda", bars(7), {
    2: { segno: true },
    3: { toCoda: true },
    5: { jump: "dal-segno" },
    6: { coda: true },
  }),
  built("D.S. from the very first bar", bars(4), {
    1: { segno: true },
    2: { fine: true },
    4: { jump: "dal-segno" },
  }),
  built("a pickup and a repeat", ["F5:1", bar(0), bar(1), "D5:1 C5:1 Bb4:1"], { 4: again }),
  built("a pickup of two eighths", ["F5:1/2 Eb5:1/2", bar(0), bar(1), "D5:3"]),
  built("a pickup and D.C. al Fine", ["F5:1", bar(0), "Bb4:3", `F5:1`, bar(2), "Bb4:3"].slice(0, 3), {}),
  built("metres that change", ["Bb4:1 C5:1 D5:2", "Eb5:1 F5:2", "G5:1 F5:1", "Eb5:4"], {
    2: { time: { beats: 3, beatType: 4 } },
    3: { time: { beats: 2, beatType: 4 } },
    4: { time: { beats: 4, beatType: 4 } },
  }),
  built("six-eight", ["Bb4:3/2 D5:1 C5:1/2", "Bb4:1/2 C5:1/2 D5:1/2 F5:3/2", "Bb4:3"], {}, { metre: [6, 8] }),
  built("six-eight with a pickup", ["F5:1/2", "Bb4:1 C5:1/2 D5:3/2", "C5:3/2 Bb4:1"], {}, { metre: [6, 8] }),
  built("four-four into six-eight", [bar(0), "Bb4:3/2 D5:3/2", "F5:3"], {
    2: { time: { beats: 6, beatType: 8 } },
  }),
  built("five-four", bars(3, 5), {}, { metre: [5, 4] }),
  built("two-two", ["Bb4:2 C5:2", "D5:4", "F5:1 Eb5:1 D5:2"], {}, { metre: [2, 2] }),
  built("sixteenths", ["Bb4:1/4 C5:1/4 D5:1/4 Eb5:1/4 F5:1/2 D5:1/4 C5:1/4 Bb4:1 C5:1", "Bb4:4"]),
  built("dotted values", ["Bb4:3/2 C5:1/2 D5:3/4 Eb5:1/4 F5:1", "Bb4:7/2 C5:1/2", "Bb4:4"]),
  built("ties over barlines and a repeat", ["Bb4:3 D5:1~", "D5:2 F5:2~", "F5:4", bar(2)], { 3: again }),
  built("a tie of three bars", ["F5:4~", "F5:4~", "F5:2 r:2"]),
  built("rests at both ends", ["r:2 Bb4:2", "r:4", "C5:2 r:2"]),
  built("a tempo that changes", bars(4), { 3: { tempo: { beatQuarters: "1", bpm: 120 } } }),
  built("a tempo that changes inside a repeat", bars(4), {
    2: { tempo: { beatQuarters: "1", bpm: 60 } },
    3: again,
  }),
  built("a key that changes", [bar(0), "B4:1 C5:1 D5:1 E5:1", "F#5:2 G5:2"], {
    2: { key: { fifths: 1, mode: "major" } },
  }),
  built("fermatas and breaths", ["Bb4:2^ C5:2,", "D5:4^"]),
  built("rehearsal marks, words and hairpins", bars(4), {
    2: { rehearsal: "A", words: "gently" },
    3: { rehearsal: "B", words: "rit." },
  }),
];
const hairpins = CORPUS.at(-1)!.score.parts[0].measures;
Object.assign(hairpins[1]!.events[0]!, { hairpinStart: "crescendo", dynamic: "p" });
Object.assign(hairpins[1]!.events[3]!, { hairpinStop: true });
Object.assign(hairpins[2]!.events[0]!, { hairpinStart: "diminuendo", dynamic: "f", lyric: "har-" });
Object.assign(hairpins[2]!.events[1]!, { hairpinStop: true, lyric: "bour" });

/** Signs whose order printed music leaves to custom: expected here by hand, after the first jump repeats are not taken again. */
export const BY_HAND: { title: string; score: Score; order: string; why: string }[] = [
  {
    ...built("a repeat, then D.C. al Fine", bars(4), { 2: { ...again, fine: true }, 4: { jump: "da-capo" } }),
    order: "1 2 1 2 3 4 1 2",
    why: "no repeat after the jump",
  },
  {
    ...built("endings, then D.S. al Coda", bars(8), {
      1: { segno: true, ...from },
      3: { ...ending([1], "start", "stop"), ...again },
      4: { ...ending([2], "start", "stop"), toCoda: true },
      6: { jump: "dal-segno" },
      7: { coda: true },
    }),
    order: "1 2 3 1 2 4 5 6 1 2 4 7 8",
    why: "the last ending after the jump",
  },
  {
    ...built("three times with endings 1, 2 and 3", bars(5), {
      1: from,
      3: { ...ending([1, 2], "start", "stop"), repeatEnd: { times: 3 } },
      4: ending([3], "start", "stop"),
    }),
    order: "1 2 3 1 2 3 1 2 4 5",
    why: "one ending serves two passes",
  },
  {
    ...built("a repeat played four times", bars(3), { 2: { ...from, repeatEnd: { times: 4 } } }),
    order: "1 2 2 2 2 3",
    why: "times says how often in all",
  },
];
