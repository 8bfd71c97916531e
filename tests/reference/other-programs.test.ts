import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { pitchId } from "../../src/core/music";
import { acceptScore, playOutOrder, readScore, type Score, timeline } from "../../src/core/score";

const FOLDER = "tests/reference/files";

interface Expected {
  /** Parts in reading order, further voices after their first. */
  parts: number;
  bars: number;
  /** Notes of the first part (or voice) as written, with lengths in quarters; the beginning is enough. */
  notes: string;
  /** The same of the second part. */
  second?: string;
  order?: string;
  /** Every kind of thing that is told to be left out or changed; nothing else may be. */
  told?: RegExp[];
  metres?: string;
}

/**
 * Files of the LilyPond MusicXML test suite (MIT). What has to come out was compared by hand with each file's own description
 * and its notes; where the reader had it otherwise, the reader was mended.
 */
const EXPECTED: Record<string, Expected> = {
  // A rest without a type, as a program leaves it in voices it fills by itself.
  "02e-Rests-NoType.xml": { parts: 2, bars: 2, notes: "C5:1 A4:4", second: "E3:4" },
  // The second voice begins on the second beat: a rest before it.
  "03b-Rhythm-Backup.xml": { parts: 2, bars: 1, notes: "C4:1 C4:1", second: "A3:1 A3:1" },
  "03c-Rhythm-DivisionChange.xml": { parts: 1, bars: 2, notes: "C5:1 C5:1 C5:1 C5:1 C5:2 C5:2" },
  // 3+2 over 8, then 5+3+1 over 4.
  "11c-TimeSignatures-CompoundSimple.xml": { parts: 1, bars: 2, notes: "B4:0.5", metres: "5/8 9/4" },
  // 3/8 + 2/8 + 3/4 is as long as 11/8.
  "11e-TimeSignatures-CompoundMixed.xml": { parts: 1, bars: 1, notes: "B4:0.5", metres: "11/8" },
  "11h-TimeSignatures-SenzaMisura.xml": {
    parts: 1,
    bars: 1,
    notes: "B4:0.5 B4:0.5 B4:0.5",
    told: [/^music without metre in bar 1 /],
  },
  "13c-KeySignatures-NonTraditional.xml": {
    parts: 1,
    bars: 2,
    notes: "C4:2 C4:2",
    told: [/^a key signature .* in bars 1, 2 /],
  },
  "21a-Chord-Basic.xml": {
    parts: 1,
    bars: 1,
    notes: "A4:1",
    told: [/^the lower notes of a chord in bar 1 were left out, the top one kept$/],
  },
  "21b-Chords-TwoNotes.xml": { parts: 1, bars: 2, notes: "A4:1 A4:1", told: [/lower notes .* bars 1, 2 /] },
  "21f-Chord-ElementInBetween.xml": {
    parts: 1,
    bars: 1,
    notes: "A4:1",
    told: [/lower notes of a chord in bar 1/],
  },
  "23a-Tuplets.xml": { parts: 1, bars: 4, notes: "C4:2/3 D4:2/3 E4:2/3" },
  "23f-Tuplets-DurationButNoBracket.xml": { parts: 2, bars: 1, notes: "F4:1 G4:1 A4:2/3 B4:2/3 C5:2/3" },
  // Grace notes take no time.
  "24a-GraceNotes.xml": { parts: 1, bars: 3, notes: "C5:1 C5:1 C5:1 C5:1", told: [/lower notes .* bar 3 /] },
  "24c-GraceNote-MeasureEnd.xml": { parts: 1, bars: 1, notes: "E5:2 E5:2" },
  "33b-Spanners-Tie.xml": { parts: 1, bars: 2, notes: "F4:8" },
  "33i-Ties-NotEnded.xml": { parts: 1, bars: 5, notes: "C5:4 C5:4" },
  "41a-MultiParts-Partorder.xml": { parts: 4, bars: 1, notes: "C4:1", second: "E4:1" },
  "42a-MultiVoice-TwoVoicesOnStaff-Lyrics.xml": {
    parts: 2,
    bars: 3,
    notes: "E5:2 D5:1 B4:1 D5:1",
    second: "C5:2 B4:1 G4:1 B4:1",
  },
  "43a-PianoStaff.xml": { parts: 2, bars: 1, notes: "F4:4", second: "B2:4" },
  "45b-RepeatWithAlternatives.xml": { parts: 1, bars: 4, notes: "C5:4", order: "1 2 1 3 4" },
  "46c-Midmeasure-Clef.xml": {
    parts: 1,
    bars: 3,
    notes: "C5:1 C5:1 C5:1 C5:1",
    told: [/^the clef C /, /^a bar that was cut in two in bar 2 was joined$/],
  },
  // A pickup of three eighths, a bar in two pieces, a last bar of three quarters.
  "46d-PickupMeasure-ImplicitMeasures.xml": {
    parts: 1,
    bars: 3,
    notes: "E4:1 E4:0.5 F4:1 G4:1 A4:1 B4:1",
    told: [/^a bar that was cut in two in bar 1 was joined$/],
  },
  "46e-PickupMeasure-SecondVoiceStartsLater.xml": { parts: 2, bars: 2, notes: "C5:1 C5:1", second: "C4:1" },
  "46f-IncompleteMeasures.xml": {
    parts: 1,
    bars: 4,
    notes: "A4:1 A4:1",
    told: [/^the metre 4\/4 in bar 3 became 2\/4/],
    metres: "4/4 2/4 4/4",
  },
  "61a-Lyrics.xml": { parts: 1, bars: 3, notes: "A4:1 A4:1" },
  // Trumpet in B♭ with two sharps, horn in E♭ with three, piano: all play a scale on C.
  "72a-TransposingInstruments.xml": {
    parts: 3,
    bars: 2,
    notes: "D4:1 E4:1 F#4:1 G4:1",
    second: "A4:1 B4:1 C#5:1 D5:1",
  },
  "72c-TransposingInstruments-Change.xml": {
    parts: 1,
    bars: 3,
    notes: "",
    told: [/^a change of instrument in bar/],
  },
  "73a-Percussion.xml": { parts: 3, bars: 2, notes: "E3:6 A2:2" },
  "90a-Compressed-MusicXML.mxl": { parts: 1, bars: 1, notes: "C#4:1 C#4:1" },
};

const names = readdirSync(FOLDER).filter((name) => !name.endsWith(".md"));
const lengthText = (quarters: number) =>
  Number.isInteger(quarters * 4) ? String(quarters) : `${Math.round(quarters * 3)}/3`;

describe("files that other programs wrote", () => {
  it("are all here, at least twenty-five", () => {
    expect(names.sort()).toEqual(Object.keys(EXPECTED).sort());
    expect(names.length).toBeGreaterThanOrEqual(25);
  });

  it.each(Object.entries(EXPECTED))("%s", (name, expected) => {
    const began = performance.now();
    const { score, notUnderstood } = readScore(readFileSync(join(FOLDER, name)));
    acceptScore(score);
    expect(performance.now() - began).toBeLessThan(5000);
    const notes = (part: Score["parts"][number]) =>
      timeline({ ...score, parts: [part] })
        .notes.map(({ written, durationQuarters }) =>
          written ? `${pitchId(written)}:${lengthText(durationQuarters)}` : "x",
        )
        .join(" ");
    expect(score.parts).toHaveLength(expected.parts);
    const [first, second] = score.parts;
    expect(first.measures).toHaveLength(expected.bars);
    expect(notes(first).startsWith(expected.notes), notes(first)).toBe(true);
    if (expected.second) expect(notes(second!).startsWith(expected.second), notes(second!)).toBe(true);
    if (expected.order)
      expect(
        playOutOrder(first.measures)
          .map((each) => each.measureIndex + 1)
          .join(" "),
      ).toBe(expected.order);
    if (expected.metres)
      expect(
        first.measures.flatMap(({ time }) => (time ? [`${time.beats}/${time.beatType}`] : [])).join(" "),
      ).toBe(expected.metres);
    const told = expected.told ?? [];
    for (const pattern of told)
      expect(
        notUnderstood.some((sentence) => pattern.test(sentence)),
        String(pattern),
      ).toBe(true);
    for (const sentence of notUnderstood)
      expect(
        told.some((pattern) => pattern.test(sentence)),
        sentence,
      ).toBe(true);
  });

  it("reads on in the first instrument's key where a player changes instruments", () => {
    // Clarinet in E♭, then in B♭, then in E♭ again, one C a bar as written: sounding E♭, B♭ and what follows.
    const { score } = readScore(readFileSync(join(FOLDER, "72c-TransposingInstruments-Change.xml")));
    const [part] = score.parts;
    expect(part.soundsBy.semitones).toBe(3);
    expect(
      timeline(score)
        .notes.slice(0, 2)
        .map((note) => note.midi! % 12),
    ).toEqual([3, 10]);
  });
});
