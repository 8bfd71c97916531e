import { describe, expect, it } from "vitest";
import {
  fingeringFor,
  fingeringText,
  hzToMidi,
  INSTRUMENTS,
  instrumentById,
  keyName,
  midiToHz,
  parsePitch,
  partialCents,
  pitchId,
  pitchToMidi,
  signatureAlter,
  spellMidi,
  tendencyText,
  transposePitch,
  valveCents,
  writtenFor,
} from "../../src/core/music";

const written = (instrument: string, concert: string) =>
  pitchId(writtenFor(instrumentById(instrument), parsePitch(concert)));
const text = (instrument: string, note: string, choice = 0) =>
  fingeringText(fingeringFor(instrumentById(instrument), parsePitch(note))!.choices[choice]!);

describe("written pitch", () => {
  // Common practice, no published source.
  it.each([
    ["clarinet", "Bb3", "C4"],
    ["trumpet", "Bb3", "C4"],
    ["sax-alto", "Bb3", "G4"],
    ["sax-bari", "Bb2", "G4"],
    ["horn", "Bb3", "F4"],
    ["sax-alto", "D4", "B4"],
    ["sax-alto", "C4", "A4"],
    ["clarinet-bass", "Bb2", "C4"],
    ["sax-tenor", "Bb2", "C4"],
    ["euphonium", "Bb2", "Bb2"],
    ["euphonium-treble", "Bb2", "C4"],
    ["bells", "Bb5", "Bb3"],
    ["piccolo", "Bb5", "Bb4"],
    ["clarinet-eb", "Eb5", "C5"],
    ["string-bass", "Bb1", "Bb2"],
  ])("%s writes concert %s as %s", (instrument, concert, expected) => {
    expect(written(instrument, concert)).toBe(expected);
  });

  it("spells a clarinet's concert A♭ as B♭, never A♯", () => {
    expect(written("clarinet", "Ab3")).toBe("Bb3");
  });

  it("comes back to the sounding pitch for every pitched instrument and every chromatic note", () => {
    for (const instrument of INSTRUMENTS.filter((each) => each.ranges)) {
      for (let midi = 40; midi < 90; midi++) {
        const concert = spellMidi(midi, -3);
        expect(transposePitch(writtenFor(instrument, concert), instrument.soundsBy)).toEqual(concert);
      }
    }
  });
});

describe("keys", () => {
  it("names signatures on both sides of C and says what they do to a letter", () => {
    expect([keyName(-3), keyName(0), keyName(2), keyName(-3, "minor")]).toEqual([
      "E♭ major",
      "C major",
      "D major",
      "C minor",
    ]);
    expect([
      signatureAlter(-2, "E"),
      signatureAlter(-2, "A"),
      signatureAlter(1, "F"),
      signatureAlter(1, "C"),
    ]).toEqual([-1, 0, 1, 0]);
  });
});

describe("brass from the harmonic series", () => {
  // Common practice, no published source.
  it.each([
    ["trombone", "Db3", "5th position"],
    ["trombone", "Ab2", "3rd position"],
    ["trombone", "Ab3", "3rd position"],
    ["trombone", "Eb3", "3rd position"],
    ["trombone", "Bb2", "1st position"],
    ["trombone", "C3", "6th position"],
    ["euphonium", "Db3", "2-3"],
    ["euphonium", "Ab3", "1"],
    ["euphonium", "Eb3", "1"],
    ["trumpet", "C4", "open"],
    ["trumpet", "D4", "1-3"],
    ["trumpet", "F#4", "2"],
    ["horn", "C4", "open"],
    ["horn", "F4", "1"],
    ["horn", "Eb4", "2"],
  ])("%s plays %s with %s", (instrument, note, expected) => {
    expect(text(instrument, note)).toBe(expected);
  });

  it("keeps the horn's 2-3 for E♭4 as an alternate", () => {
    expect(text("horn", "Eb4", 1)).toBe("2-3");
  });

  it("knows where partials and valve combinations run from equal temperament", () => {
    // From the harmonic series (1200 log2 n) and the lengths of the valve loops; that 1-3 and 1-2-3 run sharp is common
    // practice, no published source.
    const rounded = [2, 3, 4, 5, 6, 7, 8, 9, 10].map((partial) => Math.round(partialCents(partial)));
    expect(rounded).toEqual([0, 2, 0, -14, 2, -31, 0, 4, -14]);
    for (const valve of [1, 2, 3]) expect(valveCents([valve])).toBeCloseTo(0, 9);
    expect(
      [
        [1, 2],
        [2, 3],
        [1, 3],
        [1, 2, 3],
      ].map((valves) => Math.round(valveCents(valves))),
    ).toEqual([11, 16, 30, 54]);
    const tendency = (instrument: string, note: string) =>
      tendencyText(fingeringFor(instrumentById(instrument), parsePitch(note))!.choices[0]!);
    expect(tendency("trumpet", "D4")).toBe("runs 32 cents sharp");
    expect(tendency("trumpet", "C4")).toBeNull();
    expect(tendency("trumpet", "E5")).toBe("runs 14 cents flat");
    expect(tendency("trombone", "D4")).toBe("runs 14 cents flat");
    expect(tendency("flute", "D5")).toBeNull();
  });

  it("never offers the flat 7th partial first", () => {
    expect(text("trumpet", "Bb5", 0)).not.toBe("open");
    for (const id of ["trumpet", "trombone", "horn", "tuba", "euphonium"]) {
      for (let midi = 30; midi < 90; midi++) {
        const first = fingeringFor(instrumentById(id), spellMidi(midi, -2))?.choices[0];
        if (
          first &&
          "partial" in first &&
          fingeringFor(instrumentById(id), spellMidi(midi, -2))!.choices.length > 1
        )
          expect(first.partial).not.toBe(7);
      }
    }
  });

  it("lowers a trombone slur from F to B♭ a semitone in each position", () => {
    for (let position = 1; position <= 7; position++) {
      const [upper, lower] = [spellMidi(53 - position + 1, -2), spellMidi(46 - position + 1, -2)];
      const plays = (note: typeof upper) =>
        fingeringFor(instrumentById("trombone"), note)!.choices.some(
          (choice) => choice.kind === "slide" && choice.position === position,
        );
      expect(plays(upper) && plays(lower)).toBe(true);
    }
  });
});

describe("woodwind charts", () => {
  // Common practice, no published source.
  it("adds the register key for the clarinet's twelfth", () => {
    for (const [low, high] of [
      ["F3", "C5"],
      ["G3", "D5"],
      ["A3", "E5"],
    ] as const) {
      expect(pitchToMidi(parsePitch(high)) - pitchToMidi(parsePitch(low))).toBe(19);
      expect(text("clarinet", high)).toBe(`R ${text("clarinet", low)}`);
    }
  });

  it("plays the clarinet's low G with thumb and six fingers, low A with three and two", () => {
    expect(text("clarinet", "G3")).toBe("T 123 | 123");
    expect(text("clarinet", "A3")).toBe("T 123 | 12-");
  });

  it("plays the sax's C5 with the middle finger alone and D5 with six and the octave key", () => {
    expect(text("sax-alto", "C5")).toBe("-2- | ---");
    expect(text("sax-alto", "D5")).toBe("R 123 | 123");
  });

  it("lifts the flute's left index on D5 and E♭5", () => {
    expect(text("flute", "D5")).toContain("-23 |");
    expect(text("flute", "Eb5")).toContain("-23 |");
  });

  it("says that charts written from memory are not verified", () => {
    expect(fingeringFor(instrumentById("oboe"), parsePitch("G4"))!.verified).toBe(false);
    expect(fingeringFor(instrumentById("trumpet"), parsePitch("G4"))!.verified).toBe(true);
  });
});

describe("pitch and frequency", () => {
  // ISO 16:1975: A4 is 440 Hz; equal temperament follows by definition.
  it("puts A4 on 440 Hz and every octave on its double", () => {
    expect(midiToHz(69)).toBe(440);
    expect(midiToHz(81)).toBe(880);
    expect(midiToHz(60)).toBeCloseTo(261.6256, 3);
    expect(hzToMidi(midiToHz(61.37))).toBeCloseTo(61.37, 9);
  });

  it("refuses a tuning reference nobody uses", () => {
    expect(() => midiToHz(69, 300)).toThrow(RangeError);
    expect(() => parsePitch("H4")).toThrow(/not a pitch/);
  });
});
