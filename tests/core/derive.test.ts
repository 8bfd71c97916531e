import { describe, expect, it } from "vitest";
import { instrumentById, keyName, parsePitch, pitchId } from "../../src/core/music";
import { derivePart, readMusicXml, type Score, writeMusicXml } from "../../src/core/score";
import { line } from "../support/music";

const written = (score: Score) =>
  score.parts[0].measures
    .flatMap((measure) => measure.events.flatMap((event) => (event.pitch ? [pitchId(event.pitch)] : [])))
    .join(" ");

/**
 * Six lines for every instrument of the demo band: names and keys worked out by hand from the transpositions; the octaves are
 * those of the rule of `music/octave`, looked over one by one (most notes learned there: the five notes, G and A♭ above, A
 * below; clarinets below the break). C4 is middle C.
 */
const BY_HAND: {
  concert: string;
  fifths: number;
  keys: Record<string, string>;
  notes: Record<string, string>;
}[] = [
  {
    concert: "Bb4 C5 D5 Eb5 F5",
    fifths: -2,
    keys: {
      flute: "B♭ major",
      clarinet: "C major",
      "sax-alto": "G major",
      horn: "F major",
      trombone: "B♭ major",
    },
    notes: {
      flute: "Bb4 C5 D5 Eb5 F5",
      oboe: "Bb4 C5 D5 Eb5 F5",
      clarinet: "C4 D4 E4 F4 G4",
      "clarinet-bass": "C4 D4 E4 F4 G4",
      "sax-alto": "G4 A4 B4 C5 D5",
      "sax-tenor": "C5 D5 E5 F5 G5",
      "sax-bari": "G4 A4 B4 C5 D5",
      trumpet: "C4 D4 E4 F4 G4",
      horn: "F4 G4 A4 Bb4 C5",
      trombone: "Bb2 C3 D3 Eb3 F3",
      euphonium: "Bb2 C3 D3 Eb3 F3",
      tuba: "Bb1 C2 D2 Eb2 F2",
      bells: "Bb4 C5 D5 Eb5 F5",
    },
  },
  {
    concert: "Eb5 F5 G5 Ab5 Bb5",
    fifths: -3,
    keys: {
      flute: "E♭ major",
      clarinet: "F major",
      "sax-alto": "C major",
      horn: "B♭ major",
      tuba: "E♭ major",
    },
    notes: {
      flute: "Eb5 F5 G5 Ab5 Bb5",
      oboe: "Eb5 F5 G5 Ab5 Bb5",
      clarinet: "F3 G3 A3 Bb3 C4",
      "clarinet-bass": "F3 G3 A3 Bb3 C4",
      "sax-alto": "C5 D5 E5 F5 G5",
      "sax-tenor": "F5 G5 A5 Bb5 C6",
      "sax-bari": "C5 D5 E5 F5 G5",
      trumpet: "F4 G4 A4 Bb4 C5",
      horn: "Bb4 C5 D5 Eb5 F5",
      trombone: "Eb3 F3 G3 Ab3 Bb3",
      euphonium: "Eb3 F3 G3 Ab3 Bb3",
      tuba: "Eb2 F2 G2 Ab2 Bb2",
      bells: "Eb5 F5 G5 Ab5 Bb5",
    },
  },
  {
    concert: "F4 A4 C5 B4 C5",
    fifths: -1,
    keys: {
      flute: "F major",
      clarinet: "G major",
      "sax-alto": "D major",
      horn: "C major",
      "sax-tenor": "G major",
    },
    notes: {
      flute: "F4 A4 C5 B4 C5",
      oboe: "F4 A4 C5 B4 C5",
      clarinet: "G3 B3 D4 C#4 D4",
      "clarinet-bass": "G3 B3 D4 C#4 D4",
      "sax-alto": "D4 F#4 A4 G#4 A4",
      "sax-tenor": "G4 B4 D5 C#5 D5",
      "sax-bari": "D4 F#4 A4 G#4 A4",
      trumpet: "G3 B3 D4 C#4 D4",
      horn: "C4 E4 G4 F#4 G4",
      trombone: "F2 A2 C3 B2 C3",
      euphonium: "F2 A2 C3 B2 C3",
      tuba: "F1 A1 C2 B1 C2",
      bells: "F4 A4 C5 B4 C5",
    },
  },
  {
    concert: "Ab4 C5 Eb5 Db5 Ab5",
    fifths: -4,
    keys: {
      flute: "A♭ major",
      clarinet: "B♭ major",
      "sax-alto": "F major",
      horn: "E♭ major",
      trumpet: "B♭ major",
    },
    notes: {
      flute: "Ab4 C5 Eb5 Db5 Ab5",
      oboe: "Ab4 C5 Eb5 Db5 Ab5",
      clarinet: "Bb3 D4 F4 Eb4 Bb4",
      "clarinet-bass": "Bb3 D4 F4 Eb4 Bb4",
      "sax-alto": "F4 A4 C5 Bb4 F5",
      "sax-tenor": "Bb4 D5 F5 Eb5 Bb5",
      "sax-bari": "F4 A4 C5 Bb4 F5",
      trumpet: "Bb3 D4 F4 Eb4 Bb4",
      horn: "Eb4 G4 Bb4 Ab4 Eb5",
      trombone: "Ab2 C3 Eb3 Db3 Ab3",
      euphonium: "Ab2 C3 Eb3 Db3 Ab3",
      tuba: "Ab1 C2 Eb2 Db2 Ab2",
      bells: "Ab4 C5 Eb5 Db5 Ab5",
    },
  },
  {
    concert: "C5 B4 C5 Eb5 G5",
    fifths: -3,
    keys: {},
    notes: {
      flute: "C5 B4 C5 Eb5 G5",
      oboe: "C5 B4 C5 Eb5 G5",
      clarinet: "D4 C#4 D4 F4 A4",
      "clarinet-bass": "D4 C#4 D4 F4 A4",
      "sax-alto": "A4 G#4 A4 C5 E5",
      "sax-tenor": "D5 C#5 D5 F5 A5",
      "sax-bari": "A4 G#4 A4 C5 E5",
      trumpet: "D4 C#4 D4 F4 A4",
      horn: "G4 F#4 G4 Bb4 D5",
      trombone: "C3 B2 C3 Eb3 G3",
      euphonium: "C3 B2 C3 Eb3 G3",
      tuba: "C2 B1 C2 Eb2 G2",
      bells: "C5 B4 C5 Eb5 G5",
    },
  },
  {
    concert: "G4 B4 D5 F#4 G4",
    fifths: 1,
    keys: { flute: "G major", clarinet: "A major", "sax-alto": "E major", horn: "D major", bells: "G major" },
    notes: {
      flute: "G5 B5 D6 F#5 G5",
      oboe: "G4 B4 D5 F#4 G4",
      clarinet: "A3 C#4 E4 G#3 A3",
      "clarinet-bass": "A3 C#4 E4 G#3 A3",
      "sax-alto": "E4 G#4 B4 D#4 E4",
      "sax-tenor": "A4 C#5 E5 G#4 A4",
      "sax-bari": "E4 G#4 B4 D#4 E4",
      trumpet: "A4 C#5 E5 G#4 A4",
      horn: "D4 F#4 A4 C#4 D4",
      trombone: "G3 B3 D4 F#3 G3",
      euphonium: "G3 B3 D4 F#3 G3",
      tuba: "G2 B2 D3 F#2 G2",
      bells: "G4 B4 D5 F#4 G4",
    },
  },
];

describe("written notes by hand", () => {
  const cases = BY_HAND.flatMap(({ concert, fifths, keys, notes }) =>
    Object.entries(notes).map(([id, expected]) => ({ concert, fifths, id, expected, key: keys[id] })),
  );
  it.each(cases)("concert $concert is $expected for the $id", ({ concert, fifths, id, expected, key }) => {
    const music = concert
      .split(" ")
      .map((note, i) => `${note}:${i < 3 ? 1 : "1/2"}`)
      .join(" ");
    const { score } = derivePart(line(music, { fifths }), instrumentById(id), "widening");
    expect(written(score)).toBe(expected);
    if (key) expect(keyName(score.parts[0].measures[0]!.key!.fifths)).toBe(key);
  });
});

describe("what a director changes on purpose", () => {
  const tune = () => line("Bb4:1 C5:1 D5:2~ | D5:2 F5:2");
  const horn = instrumentById("horn");

  it("moves one instrument by octaves, and says who chose", () => {
    const plain = derivePart(tune(), horn, "widening");
    expect([plain.octaveShift, plain.octaveBy]).toEqual([-1, "rule"]);
    const moved = derivePart({ ...tune(), overrides: { horn: { octave: 0 } } }, horn, "widening");
    expect([moved.octaveShift, moved.octaveBy]).toEqual([0, "director"]);
    expect(written(moved.score)).toBe("F5 G5 A5 A5 C6");
    expect(moved.outOfRange.map(pitchId)).toEqual(["A5", "C6"]);
    const others = derivePart(
      { ...tune(), overrides: { horn: { octave: 0 } } },
      instrumentById("flute"),
      "widening",
    );
    expect(others.octaveBy).toBe("rule");
  });

  it("puts another note where one is asked for, in every head of a tie", () => {
    const score = tune();
    const held = score.parts[0].measures[0]!.events[2]!.id;
    score.overrides = { horn: { substitutes: { [held]: parsePitch("F4") } } };
    const part = derivePart(score, horn, "widening");
    expect(written(part.score)).toBe("F4 G4 F4 F4 C5");
    expect(part.substituted.map(({ measure, from, to }) => [measure, pitchId(from), pitchId(to)])).toEqual([
      ["1", "A4", "F4"],
      ["2", "A4", "F4"],
    ]);
  });

  it("gives an instrument the part that is written for it, and anyone the part that is asked for", () => {
    const score = tune();
    const down = line("Bb4:1 A4:1 G4:2 | F4:4").parts[0];
    const second = line("D4:4 | Bb3:4").parts[0];
    score.parts.push(
      { ...down, id: "P2", name: "Down where the others go up", forInstruments: ["clarinet"] },
      { ...second, id: "P3", name: "Second" },
    );
    const of = (id: string, part?: string) =>
      derivePart(score, instrumentById(id), "widening", { partId: part });
    expect(of("clarinet").source).toEqual({ id: "P2", name: "Down where the others go up", ownPart: true });
    expect(written(of("clarinet").score)).toBe("C4 B3 A3 G3");
    expect(written(of("trumpet").score)).toBe("C4 D4 E4 E4 G4");
    expect(written(of("trumpet", "P3").score)).toBe("E4 C4");
    expect(written(of("trumpet", "nothing").score)).toBe("C4 D4 E4 E4 G4");
    expect(of("clarinet", "P1").source.ownPart).toBe(false);
  });

  it("leaves a part where its composer put it, when it is written for the instrument", () => {
    const score = tune();
    // Written C5 for a clarinet in B♭, in a full score: over the break, and meant so.
    score.parts.push({
      ...line("C5:4 | D5:4").parts[0],
      id: "P2",
      name: "Clarinet in Bb",
      forInstruments: ["clarinet"],
      soundsBy: { letters: -1, semitones: -2 },
    });
    const part = derivePart(score, instrumentById("clarinet"), "small-tunes");
    expect(written(part.score)).toBe("C5 D5");
    expect(part.outOfRange.map(pitchId)).toEqual(["C5", "D5"]);
  });

  it("travels in MusicXML and comes back; what is damaged is told and changes nothing", () => {
    const score = tune();
    score.parts.push({
      ...line("D4:4 | Bb3:4").parts[0],
      id: "P2",
      name: "Second",
      forInstruments: ["trombone"],
    });
    for (const [i, measure] of score.parts[1]!.measures.entries()) {
      measure.id = `s${i}`;
      for (const event of measure.events) event.id = `s${event.id}`;
    }
    score.overrides = {
      horn: { octave: -1, substitutes: { [score.parts[0].measures[0]!.events[0]!.id]: parsePitch("F4") } },
    };
    const xml = writeMusicXml(score);
    const again = readMusicXml(new TextEncoder().encode(xml));
    expect(again.notUnderstood).toEqual([]);
    expect(again.score.overrides).toEqual(score.overrides);
    expect(again.score.parts[1]!.forInstruments).toEqual(["trombone"]);
    const damaged = readMusicXml(new TextEncoder().encode(xml.replace("octave&quot;:-1", "octave&quot;:99")));
    expect(damaged.notUnderstood).toHaveLength(1);
    expect(damaged.score.overrides).toBeUndefined();
  });
});

describe("timpani under a line", () => {
  it("strike tonic or dominant where something begins on one or three, and keep the notes' ids", () => {
    const tune = line("Bb4:1 C5:1 D5:2 | C5:1/2 D5:1/2 Eb5:1 F5:2~ | F5:2 r:2 | C5:4", { fifths: -2 });
    const { score, outOfRange } = derivePart(tune, instrumentById("timpani"), "small-tunes");
    // By hand: B♭2 under B♭, D and F3 under C, F; the tie is not struck again, nor the rest.
    expect(
      score.parts[0].measures.map((measure) =>
        measure.events
          .map((event) => `${event.pitch ? pitchId(event.pitch) : "r"}:${event.duration}`)
          .join(" "),
      ),
    ).toEqual(["Bb2:2 Bb2:2", "F3:2 F3:2", "r:2 r:2", "F3:4"]);
    const ids = tune.parts[0].measures.flatMap((measure) => measure.events.map((event) => event.id));
    for (const measure of score.parts[0].measures)
      for (const event of measure.events) expect(ids).toContain(event.id);
    expect([score.parts[0].clef, outOfRange]).toEqual(["bass", []]);
  });
});
