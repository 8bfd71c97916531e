import { engraveShorthand } from "../../src/core/book";
import { type Pitch, pitchId, signatureAlter } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import type { Score } from "../../src/core/score";

const LETTERS = ["C", "D", "E", "F", "G", "A", "B"] as const;
/** Bars by metre, lengths in quarters; "r" before a length is a rest, "-" after one ties it to the next of its pitch. */
const CELLS: Record<string, string[]> = {
  "4/4": [
    "1 1 1 1",
    "2 1 1",
    "1 1 2",
    "2 2",
    "1/2 1/2 1 1 1",
    "1 1/2 1/2 1/2 1/2 1",
    "3 1",
    "3/2 1/2 1 1",
    "1 r1 1 1",
    "4",
    "1 1 1 r1",
    "1/2 1/2 1/2 1/2 2",
    "2 r2",
  ],
  "3/4": ["1 1 1", "2 1", "1 1/2 1/2 1", "3", "3/2 1/2 1", "1/2 1/2 1/2 1/2 1", "2 r1", "1 r1 1"],
  "2/4": ["1 1", "1/2 1/2 1", "2", "1 1/2 1/2", "3/2 1/2", "1 r1"],
  "6/8": [
    "1/2 1/2 1/2 1/2 1/2 1/2",
    "3/2 3/2",
    "1 1/2 1 1/2",
    "3/2 1/2 1/2 1/2",
    "3",
    "1 1/2 3/2",
    "3/2 r3/2",
  ],
};

/** A line nobody has seen: beginner rhythms and mostly steps in a random key and metre, with slurs, ties, repeats. */
export function randomLine(seed: number): { score: Score; bpm: number } {
  const random = seededRandom(seed * 7919 + 11);
  const pick = <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)]!;
  const metre = pick(["4/4", "4/4", "3/4", "2/4", "6/8"]);
  const [beats, beatType] = metre.split("/").map(Number) as [number, number];
  const fifths = pick([-4, -3, -3, -2, -2, -2, -1, -1, 0, 1]);
  const bars = pick([8, 8, 10, 12]);
  // Steps above C4; around B flat 4, within an octave.
  let step = 6 + Math.floor(4 * random());
  const pitch = (): Pitch => {
    const letter = LETTERS[step % 7]!;
    return { letter, alter: signatureAlter(fifths, letter), octave: 4 + Math.floor(step / 7) };
  };
  let slurOpen = false;
  let tie = false;
  const repeated = random() < 0.3;
  const music: string[] = [];
  for (let bar = 0; bar < bars; bar++) {
    const last = bar === bars - 1;
    const lengths = last
      ? [CELLS[metre]!.find((cell) => !cell.includes(" ") && !cell.includes("r"))!]
      : pick(CELLS[metre]!).split(" ");
    const words = lengths.map((length, i) => {
      if (length.startsWith("r")) {
        return `r:${length.slice(1)}`;
      }
      // A slur goes to another pitch; without one every sixth note is struck again.
      if (!tie && (slurOpen || random() < 0.85)) {
        const by = pick([-2, -1, -1, -1, 1, 1, 1, 2, 3, -3]);
        step += step + by < 3 || step + by > 12 ? -by : by;
      }
      let signs = "";
      const nextRests = lengths[i + 1]?.startsWith("r") ?? (last && i === lengths.length - 1);
      tie = !last && i === lengths.length - 1 && !nextRests && !slurOpen && random() < 0.12;
      if (tie) signs += "~";
      else if (slurOpen && (nextRests || i === lengths.length - 1 || random() < 0.5)) {
        signs += ")";
        slurOpen = false;
      } else if (!slurOpen && !nextRests && i < lengths.length - 1 && random() < 0.25) {
        signs += "(";
        slurOpen = true;
      }
      return `${pitchId(pitch())}:${length}${signs}`;
    });
    // A tie needs a note of its pitch to go on to.
    music.push(words.join(" "));
  }
  for (let bar = 1; bar < bars; bar++)
    if (music[bar]!.startsWith("r") && music[bar - 1]!.endsWith("~"))
      music[bar - 1] = music[bar - 1]!.slice(0, -1);
  if (repeated) {
    music[0] = `[: ${music[0]}`;
    music[bars / 2 - 1] += " :]";
    if (music[bars / 2 - 1]!.includes("~")) music[bars / 2 - 1] = music[bars / 2 - 1]!.replace("~", "");
  }
  const bpm = Math.round(66 + 40 * random()) * (metre === "6/8" ? 0.72 : 1);
  const score = engraveShorthand({
    number: seed,
    page: 1,
    title: `Line ${seed}`,
    introduces: "",
    composer: "Chance",
    fifths,
    metre: [beats, beatType],
    bpm,
    music: music.join(" | "),
  });
  return { score, bpm };
}
