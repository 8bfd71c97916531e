import { describe, expect, it } from "vitest";
import { pitchId } from "../../src/core/music";
import {
  playOutOrder,
  readAbc,
  readMusicXml,
  type Score,
  ScoreReadError,
  splitTunes,
  timeline,
  writeMusicXml,
} from "../../src/core/score";

const head = (more = "") => `X:1\nT:Harbour Test\nM:4/4\nL:1/4\n${more}K:Bb\n`;
const notes = (score: Score) =>
  score.parts[0].measures.map((measure) =>
    measure.events
      .map((event) => (event.pitch ? `${pitchId(event.pitch)}:${event.duration}` : `r:${event.duration}`))
      .join(" "),
  );

// What each sign means is taken from the ABC music standard 2.1 (2011).
describe("ABC", () => {
  it("reads the head: title, composer, metre, length, tempo and key", () => {
    const { score } = readAbc(
      "X:1\nT:The Parson's Farewell\nC:Traditional\nM:C|\nL:1/8\nQ:1/2=92\nK:Gm\nG4 A4|",
    );
    const first = score.parts[0].measures[0]!;
    expect(score).toMatchObject({ title: "The Parson's Farewell", composer: "Traditional" });
    expect(first).toMatchObject({
      time: { beats: 2, beatType: 2 },
      key: { fifths: -2, mode: "minor" },
      tempo: { beatQuarters: "2", bpm: 92 },
    });
    expect(notes(score)).toEqual(["G4:2 A4:2"]);
  });

  it("takes sharps and flats from the key, keeps an accidental to the end of its bar, and octave marks", () => {
    expect(notes(readAbc(`${head()}B, E e b|e =e e ^f|e4|`).score)).toEqual([
      "Bb3:1 Eb4:1 Eb5:1 Bb5:1",
      "Eb5:1 E5:1 E5:1 F#5:1",
      "Eb5:4",
    ]);
    expect(notes(readAbc("X:1\nM:4/4\nL:1/4\nK:D\nC, c' F f|").score)).toEqual(["C#3:1 C#6:1 F#4:1 F#5:1"]);
  });

  it.each([
    ["B2 c/2d/2 e", ["Bb4:2 C5:1/2 D5:1/2 Eb5:1"]],
    ["B2 c/d/ e", ["Bb4:2 C5:1/2 D5:1/2 Eb5:1"]],
    ["B3/2 c/ d2", ["Bb4:3/2 C5:1/2 D5:2"]],
    ["B>c d2", ["Bb4:3/2 C5:1/2 D5:2"]],
    ["B<c d2", ["Bb4:1/2 C5:3/2 D5:2"]],
    ["B z z2", ["Bb4:1 r:1 r:2"]],
    ["Z|B4", ["r:4", "Bb4:4"]],
    ["(3Bcd e2", ["Bb4:2/3 C5:2/3 D5:2/3 Eb5:2"]],
  ])("reads the lengths of %s", (music, expected) => {
    expect(notes(readAbc(`${head()}${music}|`).score)).toEqual(expected);
  });

  it("reads ties, slurs, staccato and breath", () => {
    const events = readAbc(`${head()}B2- B (c | d) .e !breath! f2 |`).score.parts[0].measures.flatMap(
      (measure) => measure.events,
    );
    expect(events[0]).toMatchObject({ tieStart: true });
    expect(events[1]).toMatchObject({ tieStop: true });
    expect([events[2]!.slurStart, events[3]!.slurStop]).toEqual([1, 1]);
    expect(events[4]).toMatchObject({ articulations: ["staccato"], breath: true });
  });

  it("plays repeats and endings in their order, after a pickup", () => {
    const { score } = readAbc(`${head()}F|:B c d e|1 f2 F2:|2 B4|]`);
    const { measures } = score.parts[0];
    expect(measures.map((measure) => measure.number)).toEqual(["0", "1", "2", "3"]);
    expect(playOutOrder(measures).map((played) => measures[played.measureIndex]!.number)).toEqual([
      "0",
      "1",
      "2",
      "1",
      "3",
    ]);
    expect(timeline(score).notes.map((note) => note.beat)[0]).toBe(4);
  });

  it("survives the way out as MusicXML and back", () => {
    const { score } = readAbc(`${head("Q:1/4=96\n")}F|B2 c>d|(3efg f z|B2- B (c|d3) z|`);
    const back = readMusicXml(new TextEncoder().encode(writeMusicXml(score))).score;
    expect(back).toEqual(score);
  });

  it("says what it left out", () => {
    expect(readAbc(`${head()}"Bb" B4|~B4|\nw: la la`).notUnderstood).toEqual([
      "the words or chords over the notes were left out",
      "the sign ~ was left out",
      "the words under the notes were left out",
    ]);
  });

  it("reads voices as parts, in the order in which they are declared, each with its own bars", () => {
    const { score } = readAbc(
      'X:1\nM:4/4\nL:1/4\nV:1 name="First"\nV:2 name="Second" clef=bass\nK:C\nV:1\nc d e f|g4|\nV:2\nC, z C, z|[V:1] c4|[V:2] C,4|C,4|',
    );
    expect(score.parts.map(({ name, clef }) => [name, clef])).toEqual([
      ["First", "treble"],
      ["Second", "bass"],
    ]);
    expect(notes(score)).toEqual(["C5:1 D5:1 E5:1 F5:1", "G5:4", "C5:4"]);
    expect(notes({ ...score, parts: [score.parts[1]!] })).toEqual(["C3:1 r:1 C3:1 r:1", "C3:4", "C3:4"]);
  });

  it("cuts a file with several tunes, and leaves what stands before them", () => {
    const tunes = splitTunes("%abc-2.1\n\nX:1\nT:One\nK:C\nC4|\n\nX:2\nT:Two\nK:G\nG4|\n");
    expect(tunes.map((tune) => readAbc(tune).score.title)).toEqual(["One", "Two"]);
  });

  it("holds an accidental over a tie, puts decorations on the note after them, reads fields among the notes", () => {
    const { score } = readAbc(`${head()}^f4-|f2 f2|!fermata!!mf!b2 [K:F][M:3/4] z2|[L:1/8]e2 e2 e2|`);
    expect(notes(score)).toEqual(["F#5:4", "F#5:2 F5:2", "Bb5:2 r:2", "E5:1 E5:1 E5:1"]);
    const events = score.parts[0].measures[2]!.events;
    expect(events[0]).toMatchObject({ fermata: true, dynamic: "mf" });
    expect(score.parts[0].measures[2]!.key).toEqual({ fifths: -1, mode: "major" });
  });

  it("keeps the top note of a chord and grace notes apart, and says what it did", () => {
    const { score, notUnderstood } = readAbc(`${head()}[BDf]2 {cd}e2|[Bd]4|`);
    expect(timeline(score).notes.map((note) => [note.midi, note.durationQuarters])).toEqual([
      [77, 2],
      [75, 2],
      [74, 4],
    ]);
    expect(score.parts[0].measures[0]!.events.filter((event) => event.grace)).toHaveLength(2);
    expect(notUnderstood).toEqual([
      "the lower notes of a chord in bars 1, 2 were left out, the top one kept",
    ]);
  });

  it("rests for several bars, groups of five, and bars of another length", () => {
    expect(notes(readAbc(`${head()}Z2|B4|`).score)).toEqual(["r:4", "r:4", "Bb4:4"]);
    const five = readAbc("X:1\nM:2/4\nL:1/8\nK:C\n(5cdefg a2|").score;
    expect(notes(five)[0]!.split(" ")[0]).toBe("C5:1/5");
    const short = readAbc(`${head()}B4|B2|B4|B c d e f|B4|`);
    expect(short.notUnderstood).toEqual([
      "the metre 4/4 in bar 2 became 2/4, to fit the notes",
      "the metre 4/4 in bar 4 became 5/4, to fit the notes",
    ]);
  });

  it.each([
    ["no key", "X:1\nT:Nothing\n", /no key \(K:\)/],
    ["music before the key", "X:1\nBcde|\nK:C\n", /Line 2: music stands before the key/],
    ["an odd metre", "X:1\nM:five\nK:C\n", /Line 2: the metre "five" cannot be read/],
    ["an odd key", "X:1\nK:H\n", /Line 2: the key "H" cannot be read/],
    ["no notes", `${head()}Z|`, /there are no notes/],
    ["something else altogether", "dear diary, today I practised", /Line 1: music stands before the key/],
    ["a sign nobody knows", `${head()}B4|@@@|`, /Line 6: "@@@\|" cannot be read/],
  ])("refuses %s with line and reason", (_, text, reason) => {
    expect(() => readAbc(text)).toThrow(ScoreReadError);
    expect(() => readAbc(text)).toThrow(reason);
  });
});
