import { Key, Note } from "tonal";
import { describe, expect, it } from "vitest";
import {
  fingeringFor,
  fingeringText,
  type HoleFingering,
  hzToMidi,
  INSTRUMENTS,
  instrumentById,
  keyName,
  type Letter,
  midiToHz,
  midiToPitch,
  otherwiseText,
  parsePitch,
  partialCents,
  pitchId,
  pitchToMidi,
  readFingering,
  signatureAlter,
  spellMidi,
  tendencyText,
  transposePitch,
  valveCents,
  writtenFor,
} from "../../src/core/music";
import { checksOf, lowestOf } from "../../src/core/music/acoustics";

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

  // Which holes, which keys: textbook acoustics and common practice, no published source.
  it.each([
    ["bassoon", "Eb2", "123 | 123 + low D + E♭ + pancake E + F"],
    ["bassoon", "C#2", "123 | 123 + low C + low D + C♯ + pancake E + F"],
    ["bassoon", "C2", "123 | 123 + low C + low D + pancake E + F"],
    ["bassoon", "B1", "123 | 123 + low B + low C + low D + pancake E + F"],
    ["bassoon", "Bb1", "123 | 123 + low B♭ + low B + low C + low D + pancake E + F"],
    ["bassoon", "C#4", "123 | --- + C♯"],
    ["oboe", "F4", "123 | 1-- + F"],
    ["oboe", "F5", "R 123 | 1-- + F"],
    ["clarinet", "E3", "T 123 | 123 + left E"],
    ["clarinet", "B4", "R T 123 | 123 + left E"],
    ["clarinet", "F3", "T 123 | 123 + right F"],
    ["clarinet", "C5", "R T 123 | 123 + right F"],
  ])("%s plays %s with %s", (instrument, note, expected) => {
    expect(text(instrument, note)).toBe(expected);
  });

  it("keeps the oboe's forked F and the clarinet's other little finger, and says when they serve", () => {
    expect(text("oboe", "F4", 1)).toBe("123 | 1-3");
    expect(otherwiseText(instrumentById("oboe"), parsePitch("F4"))).toContain("beside D and E♭");
    expect(text("clarinet", "B4", 1)).toBe("R T 123 | 123 + right E");
    expect(otherwiseText(instrumentById("clarinet"), parsePitch("G3"))).toBeNull();
  });

  it("reasons the low register from the open holes alone", () => {
    const low = (how: "flute" | "oboe" | "bassoon" | "clarinet" | "sax", typed: string) =>
      pitchId(midiToPitch(lowestOf(how, readFingering(how, typed) as HoleFingering)));
    // By hand: six holes of a clarinet are G3, five A3; a fork lowers by a semitone; a key on the side raises by one.
    expect(low("clarinet", "T 123 | 123")).toBe("G3");
    expect(low("clarinet", "T 123 | 12-")).toBe("A3");
    expect(low("clarinet", "T 1-- | 1--")).toBe("Eb4");
    expect(low("sax", "123 | -2-")).toBe("F#4");
    expect(low("flute", "T 123 | --3 + E♭")).toBe("F#4");
    expect(low("oboe", "12- | 1--")).toBe("Bb4");
    expect(low("bassoon", "T 1-3 | ---")).toBe("Eb3");
    // What no chart says is not made to agree.
    expect(low("sax", "123 | 1--")).not.toBe("F#4");
  });

  it("has every note of every chart checked by something beside memory, alternates by their holes too", () => {
    for (const id of ["flute", "oboe", "bassoon", "clarinet", "sax-alto"] as const) {
      const instrument = instrumentById(id);
      for (let midi = 30; midi < 100; midi++) {
        const chart = fingeringFor(instrument, midiToPitch(midi));
        if (!chart) continue;
        expect([id, midi, chart.checkedBy.length > 0]).toEqual([id, midi, true]);
        for (const choice of chart.choices as HoleFingering[])
          expect([id, midi, checksOf(instrument.fingering as "flute", midi, choice).length > 0]).toEqual([
            id,
            midi,
            true,
          ]);
      }
    }
  });

  it("finds a wrong fingering: the check is no rubber stamp", () => {
    const wrong = readFingering("bassoon", "123 | 123 + low D + E♭ + F") as HoleFingering;
    expect(checksOf("bassoon", pitchToMidi(parsePitch("Eb2")), wrong)).toEqual([]);
    const natural = readFingering("oboe", "123 | 1--") as HoleFingering;
    expect(checksOf("oboe", pitchToMidi(parsePitch("F4")), natural)).toEqual([]);
    const noKey = readFingering("clarinet", "T 123 | 123") as HoleFingering;
    expect(checksOf("clarinet", pitchToMidi(parsePitch("D5")), noKey)).toEqual([]);
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

describe("builds of an instrument", () => {
  const of = (instrument: string, note: string, variant: string) =>
    fingeringFor(instrumentById(instrument), parsePitch(note), { variant })!.choices.map(fingeringText);

  // Derived by hand from the harmonic series of each tube; which side of a double horn is taken where is common practice,
  // no published source.
  it.each([
    ["horn", "F4", "single-f", "1"],
    ["horn", "F4", "single-b-flat", "open"],
    ["horn", "C5", "single-b-flat", "open"],
    ["horn", "E4", "single-b-flat", "2"],
    ["horn", "F4", "double", "1"],
    ["horn", "G4", "double", "open"],
    ["horn", "A4", "double", "T 1-2"],
    ["horn", "Ab4", "double", "T 2-3"],
    ["horn", "Bb4", "double", "T 1"],
    ["horn", "A4", "single-b-flat", "1-2"],
    ["horn", "G4", "single-b-flat", "1"],
    ["horn", "F#4", "single-b-flat", "1-2"],
    ["horn", "Ab4", "single-b-flat", "2-3"],
    ["horn", "C5", "double", "T open"],
    ["trombone", "C3", "straight", "6th position"],
    ["trombone", "C3", "trigger", "T 1st position"],
    ["trombone", "F2", "trigger", "T 1st position"],
    ["trombone", "D3", "trigger", "4th position"],
    ["euphonium", "C3", "three-valves", "1-3"],
    ["euphonium", "C3", "four-valves", "4"],
    ["euphonium", "B2", "four-valves", "2-4"],
    ["tuba", "Eb1", "four-valves", "1-4"],
  ])("%s plays %s on a %s with %s first", (instrument, note, variant, first) => {
    expect(of(instrument, note, variant)[0]).toBe(first);
  });

  it("keeps the other way as an alternate, and the third valve alone beside 1-2", () => {
    expect(of("horn", "A4", "double")).toContain("1-2");
    expect(of("trombone", "C3", "trigger")).toContain("6th position");
    expect(of("trumpet", "A4", "")).toEqual(["1-2", "3"]);
  });

  it("a fourth valve brings 1-3's note closer to pitch", () => {
    expect(Math.round(valveCents([4]))).toBe(0);
    expect(Math.abs(valveCents([2, 4]))).toBeLessThan(Math.abs(valveCents([1, 2, 3])));
  });

  it("says where the slide is a long reach", () => {
    const of = (note: string) =>
      tendencyText(fingeringFor(instrumentById("trombone"), parsePitch(note))!.choices[0]!);
    expect(of("C3")).toContain("long reach");
    expect(of("D3")).toBeNull();
  });
});

describe("a director's own fingering", () => {
  it("reads back every fingering of every chart from its own text", () => {
    for (const instrument of INSTRUMENTS) {
      for (const how of [
        instrument.fingering,
        ...(instrument.variants ?? []).map((each) => each.fingering),
      ]) {
        const variant = instrument.variants?.find((each) => each.fingering === how)?.id ?? null;
        for (let midi = 24; midi < 100; midi++) {
          for (const choice of fingeringFor(instrument, spellMidi(midi, -2), { variant })?.choices ?? []) {
            const back = readFingering(how, fingeringText(choice));
            expect(back && fingeringText(back)).toBe(fingeringText(choice));
          }
        }
      }
    }
  });

  it.each([
    ["trumpet", "4"],
    ["trumpet", "3-1"],
    ["trumpet", "T 1"],
    ["trombone", "8"],
    ["clarinet", "T 12"],
    ["bells", "1"],
    ["flute", ""],
  ])("refuses for the %s: %s", (instrument, typed) => {
    expect(readFingering(instrumentById(instrument).fingering, typed)).toBeNull();
  });

  it("comes first, counts as verified, and leaves the chart's as alternates", () => {
    const clarinet = instrumentById("clarinet");
    const own = new Map([[63, readFingering("clarinet", "T 1-- | 1-- ")!]]);
    const choice = fingeringFor(clarinet, parsePitch("Eb4"), { own })!;
    expect(choice.checkedBy).toEqual(["director"]);
    expect(choice.choices.map(fingeringText)).toEqual(["T 1-- | 1--", "T 12- | --- + side E♭"]);
    expect(fingeringFor(clarinet, parsePitch("E4"), { own })!.checkedBy).toEqual(["tone holes"]);
  });
});

describe("instrument data", () => {
  const pitched = INSTRUMENTS.filter((instrument) => instrument.ranges);

  it("keeps every range in order: five notes inside the first year inside the second, the tessitura inside the first year", () => {
    for (const { name, ranges, tessitura } of pitched) {
      const [five, first, second, easy] = [
        ranges!.fiveNotes,
        ranges!.firstYear,
        ranges!.secondYear,
        tessitura!,
      ].map((range) => range.map((note) => pitchToMidi(parsePitch(note))) as [number, number]);
      expect(five![1], name).toBeGreaterThan(five![0]);
      expect(first![0], name).toBeLessThanOrEqual(five![0]);
      expect(first![1], name).toBeGreaterThanOrEqual(five![1]);
      expect(second![0], name).toBeLessThanOrEqual(first![0]);
      expect(second![1], name).toBeGreaterThanOrEqual(first![1]);
      expect(easy![0], name).toBeGreaterThanOrEqual(first![0]);
      expect(easy![1], name).toBeLessThanOrEqual(first![1]);
    }
  });

  it("has a fingering for every note of the two-year range of every wind instrument", () => {
    const missing = pitched
      .filter((instrument) => instrument.fingering !== "none")
      .flatMap((instrument) => {
        const [low, high] = instrument.ranges!.secondYear.map((note) => pitchToMidi(parsePitch(note)));
        return Array.from({ length: high! - low! + 1 }, (_, i) => spellMidi(low! + i, 1))
          .filter((pitch) => !fingeringFor(instrument, pitch))
          .map((pitch) => `${instrument.id} ${pitchId(pitch)}`);
      });
    expect(missing).toEqual([]);
  });

  it("tells a tuning note, snags and cautions for everybody who needs them, and no two instruments share a short name", () => {
    for (const instrument of INSTRUMENTS) {
      expect(instrument.typicalSnags.length, instrument.name).toBeGreaterThan(0);
      expect(instrument.cautions.length, instrument.name).toBeGreaterThan(0);
      if (instrument.tuningNote) expect(pitchToMidi(parsePitch(instrument.tuningNote))).toBeGreaterThan(30);
      if (typeof instrument.fingering !== "string") continue;
      expect(instrument.tuningNote === null, instrument.name).toBe(
        !/flutes|reeds|clarinets|saxes|strings/.test(instrument.family),
      );
    }
    expect(new Set(INSTRUMENTS.map((each) => each.short)).size).toBe(INSTRUMENTS.length);
  });
});

describe("intervals and keys against a music theory library", () => {
  it("agrees with tonal on transposed pitches, MIDI numbers and key signatures", () => {
    // tonal 6.4 (npm), an independent implementation.
    const name = (pitch: string) => pitch.replace("♭", "b").replace("♯", "#");
    const intervals: Record<string, string> = {
      clarinet: "2M",
      trumpet: "2M",
      "sax-alto": "6M",
      "sax-bari": "13M",
      horn: "5P",
      "clarinet-bass": "9M",
      "clarinet-eb": "-3m",
      bells: "-15P",
      xylophone: "-8P",
      "string-bass": "8P",
    };
    for (const [id, interval] of Object.entries(intervals)) {
      for (let midi = 41; midi < 85; midi++) {
        const concert = spellMidi(midi, midi % 2 ? -3 : 2);
        expect(pitchId(writtenFor(instrumentById(id), concert)), `${id} ${pitchId(concert)}`).toBe(
          Note.transpose(pitchId(concert), interval),
        );
        expect(pitchToMidi(concert)).toBe(Note.midi(pitchId(concert)));
      }
    }
    for (let fifths = -7; fifths <= 7; fifths++) {
      const tonic = name(keyName(fifths).replace(" major", ""));
      expect(Key.majorKey(tonic).alteration).toBe(fifths);
      expect(Key.minorKey(name(keyName(fifths, "minor").replace(" minor", ""))).alteration).toBe(fifths);
      for (const note of Key.majorKey(tonic).scale)
        expect(signatureAlter(fifths, note[0] as Letter)).toBe(
          (note.match(/#/g) ?? []).length - (note.match(/b/g) ?? []).length,
        );
    }
  });
});
