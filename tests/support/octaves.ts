import { INSTRUMENTS, type Instrument, keyName, pitchName, type Stage } from "../../src/core/music";
import { timeline } from "../../src/core/score";
import { buildBlock, type CutShort, usualBlock } from "../../src/core/warmup";

export const MELODY_INSTRUMENTS = INSTRUMENTS.filter((each) => each.ranges && !each.drums);
export const STAGES: Stage[] = ["five-notes", "small-tunes", "widening"];
/** Concert keys in the order of the circle, flats first, as signatures. */
export const KEYS = [-2, -3, -1, -4, 0, -5, 1, -6, 2, 3, 4, 5];

export interface ScaleCell {
  /** Written MIDI numbers of what is played, rests left out. */
  midis: number[];
  names: string[];
  cutShort: CutShort | null;
}

/** What a player of a stage reads for an ascending scale in a concert key. */
export function scaleCell(
  instrument: Instrument,
  stage: Stage,
  fifths: number,
  pattern: "five-note" | "major",
): ScaleCell {
  const block = usualBlock("scales", "b", { keys: [fifths], pattern, direction: "up", countsOff: 0 });
  const { score, cutShort } = buildBlock(block)({ instrument, stage });
  const { notes } = timeline(score);
  return {
    midis: notes.map((note) => note.midi! - instrument.soundsBy.semitones),
    names: notes.map((note) => pitchName(note.written!)),
    cutShort,
  };
}

function words({ names, midis, cutShort }: ScaleCell, whole: number): string {
  if (names.length === 0) return "rests";
  const at = (midi: number) => names[midis.indexOf(midi)]!;
  const span = `${at(Math.min(...midis))}–${at(Math.max(...midis))}`;
  if (cutShort) return `${span}, ${names.length} of ${whole}`;
  return names.length < whole ? `${span} (five)` : span;
}

/** The table for directors: where every instrument plays the five-note and the one-octave scale in each concert key. */
export function octaveTable(): string {
  const heads = ["concert key", ...STAGES.flatMap((stage) => [`five, ${stage}`, `octave, ${stage}`])];
  const tables = MELODY_INSTRUMENTS.map((instrument) => {
    const rows = KEYS.map((fifths) => [
      keyName(fifths),
      ...STAGES.flatMap((stage) => [
        words(scaleCell(instrument, stage, fifths, "five-note"), 5),
        words(scaleCell(instrument, stage, fifths, "major"), 8),
      ]),
    ]);
    const table = [heads, heads.map(() => "---"), ...rows].map((row) => `| ${row.join(" | ")} |`);
    return `## ${instrument.name}\n\n${table.join("\n")}\n`;
  });
  return `# Where every instrument plays its scales

Written notes of the scale upwards, lowest to highest, for each stage and concert key, as the warm-ups give them. "(five)": the octave does not fit the stage, the first five notes are played with the others and the rest is rests. "n of m": only so many of the notes lie in the range of the stage; the others are rests. Timpani play tonic and dominant, drums the rhythm.

The octave follows from what is learned first, from the range of the stage, from what is comfortable and from the shape of the phrase: the rule stands at the head of \`src/core/music/octave.ts\`. This page is made by the code and held by \`tests/core/octave.test.ts\` (\`npx vitest run tests/core/octave.test.ts -u\` writes it anew).

${tables.join("\n")}`;
}
