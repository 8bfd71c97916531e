import { describe, expect, it } from "vitest";
import {
  type Fingering,
  fingeringFor,
  fingeringText,
  INSTRUMENTS,
  instrumentById,
  pitchId,
  pitchToMidi,
  type Stage,
  stageRange,
  transposePitch,
} from "../../src/core/music";
import { readMusicXml, type Score, timeline, writeMusicXml } from "../../src/core/score";
import {
  type Block,
  buildBlock,
  clockOf,
  type Families,
  type Family,
  fitToBudget,
  type PlayerKind,
  restBalance,
  routinePlan,
  slurPairs,
  TEMPLATES,
  temposOf,
  USUAL,
  usualBlock,
  WarmUpError,
} from "../../src/core/warmup";

const player = (id: string, stage: Stage = "widening", variant: string | null = null): PlayerKind => ({
  instrument: instrumentById(id),
  stage,
  variant,
});
const FAMILIES = Object.keys(USUAL) as Family[];

/** Written notes, ties once, rests left out. */
function written(score: Score): string {
  return timeline(score)
    .notes.map((note) => (note.written ? pitchId(note.written) : "x"))
    .join(" ");
}
function notesOf<F extends Family>(
  family: F,
  changes: Partial<Families[F]>,
  id: string,
  stage: Stage = "widening",
): string {
  return written(buildBlock(usualBlock(family, "b", changes))(player(id, stage)).score);
}
const signatures = (score: Score) =>
  score.parts[0].measures.flatMap((measure) => (measure.key ? [measure.key.fifths] : []));

describe("every family for every instrument", () => {
  it("lasts the same number of counts for all, in whole bars of four", () => {
    for (const family of FAMILIES)
      for (const stage of ["five-notes", "small-tunes", "widening"] as const) {
        const build = buildBlock(usualBlock(family, "b"));
        const counts = new Set(INSTRUMENTS.map((instrument) => build({ instrument, stage }).counts));
        expect([...counts], `${family}, ${stage}`).toHaveLength(1);
        expect([...counts][0]! % 4).toBe(0);
      }
  });

  it("stays inside the range of the stage, or says what is left out", () => {
    for (const family of FAMILIES.filter((each) => each !== "slurs" && each !== "range-steps"))
      for (const instrument of INSTRUMENTS.filter((each) => each.ranges)) {
        const part = buildBlock(usualBlock(family, "b"))({ instrument, stage: "small-tunes" });
        const range = stageRange(instrument, "small-tunes")!;
        for (const note of timeline(part.score).notes) {
          if (!note.written) continue;
          expect(pitchToMidi(note.written)).toBeGreaterThanOrEqual(pitchToMidi(range.low));
          expect(pitchToMidi(note.written)).toBeLessThanOrEqual(pitchToMidi(range.high));
        }
      }
  });

  it("comes back from MusicXML as it was written", () => {
    for (const family of FAMILIES)
      for (const id of ["trombone", "clarinet", "snare"]) {
        const { score } = buildBlock(usualBlock(family, "b"))(player(id));
        const back = readMusicXml(new TextEncoder().encode(writeMusicXml(score)));
        expect(back.notUnderstood, family).toEqual([]);
        expect(timeline(back.score).notes.map(({ midi, onsetQuarters }) => [midi, onsetQuarters])).toEqual(
          timeline(score).notes.map(({ midi, onsetQuarters }) => [midi, onsetQuarters]),
        );
      }
  });

  it("gives drums one stroke a count for held notes, hands in turn", () => {
    const { score } = buildBlock(usualBlock("long-tones", "b", { degrees: [1] }))(player("snare"));
    expect(timeline(score).notes.map((note) => note.lyric)).toEqual(["R", "L", "R", "L", "R", "L", "R", "L"]);
  });
});

describe("every pitched instrument", () => {
  /**
   * Written names of concert B♭ and F, and the signature of concert B♭ major, worked out by hand from how far each
   * instrument sounds from what it reads (a second, sixth, third, fifth) and the circle of fifths: each fifth is one sign.
   */
  const AS_WRITTEN: [bFlat: string, f: string, fifths: number] = ["Bb", "F", -2];
  const IN_B_FLAT: typeof AS_WRITTEN = ["C", "G", 0];
  const IN_E_FLAT: typeof AS_WRITTEN = ["G", "D", 1];
  const TABLE: Record<string, typeof AS_WRITTEN> = {
    piccolo: AS_WRITTEN,
    flute: AS_WRITTEN,
    oboe: AS_WRITTEN,
    bassoon: AS_WRITTEN,
    "clarinet-eb": IN_E_FLAT,
    clarinet: IN_B_FLAT,
    "clarinet-alto": IN_E_FLAT,
    "clarinet-bass": IN_B_FLAT,
    "sax-soprano": IN_B_FLAT,
    "sax-alto": IN_E_FLAT,
    "sax-tenor": IN_B_FLAT,
    "sax-bari": IN_E_FLAT,
    trumpet: IN_B_FLAT,
    flugelhorn: IN_B_FLAT,
    horn: ["F", "C", -1],
    trombone: AS_WRITTEN,
    euphonium: AS_WRITTEN,
    "euphonium-treble": IN_B_FLAT,
    tuba: AS_WRITTEN,
    "string-bass": AS_WRITTEN,
    "bass-guitar": AS_WRITTEN,
    bells: AS_WRITTEN,
    xylophone: AS_WRITTEN,
    vibraphone: AS_WRITTEN,
    marimba: AS_WRITTEN,
  };
  const letters = (notes: string) => notes.replaceAll(/-?\d/g, "");

  // Timpani have no melody: see "timpani" below.
  it("has a row", () => {
    expect(Object.keys(TABLE).sort()).toEqual(
      INSTRUMENTS.filter((instrument) => instrument.ranges && !instrument.drums)
        .map((instrument) => instrument.id)
        .sort(),
    );
  });

  it.each(Object.entries(TABLE))("reads its own names in each family (%s)", (id, [bFlat, f, fifths]) => {
    const first = (family: Family, changes: object = {}) =>
      letters(notesOf(family, changes as never, id))
        .split(" ")
        .filter((name) => name !== "");
    expect(first("long-tones", { degrees: [1] })).toEqual([bFlat]);
    expect(first("long-tones", { degrees: [5] })).toEqual([f]);
    expect(new Set(first("articulation"))).toEqual(new Set([f]));
    expect(new Set(first("tonguing"))).toEqual(new Set([f]));
    expect(first("chromatic-descent", { steps: 7 }).slice(-3)).toEqual([f, bFlat, f]);
    expect(first("half-step-cycle", { steps: 1 })).toEqual([bFlat, f, bFlat]);
    expect(first("scales", { pattern: "1-5-1", countsOff: 0 })).toEqual([bFlat, f, bFlat]);
    expect(first("scales", { pattern: "five-note", countsOff: 0 })[0]).toBe(bFlat);
    expect(first("chromatic-scale", { from: "Bb" })[0]).toBe(bFlat);
    expect(first("chorale", { voices: "unison" }).at(-1)).toBe(bFlat);
    const { score } = buildBlock(usualBlock("scales", "b"))(player(id));
    expect(signatures(score)).toEqual([fifths]);
  });
});

describe("scales", () => {
  /**
   * Concert B♭, E♭, A♭ and F major as each instrument writes them. Spellings and signatures: circle of fifths and major-scale
   * tables, as in any theory primer (for instance Open Music Theory, "Major Scales, Scale Degrees, and Key Signatures").
   */
  const SCALES: Record<string, Record<string, [fifths: number, notes: string]>> = {
    flute: {
      "-2": [-2, "Bb4 C5 D5 Eb5 F5 G5 A5 Bb5"],
      "-3": [-3, "Eb5 F5 G5 Ab5 Bb5 C6 D6 Eb6"],
      "-4": [-4, "Ab4 Bb4 C5 Db5 Eb5 F5 G5 Ab5"],
      "-1": [-1, "F4 G4 A4 Bb4 C5 D5 E5 F5"],
    },
    clarinet: {
      "-2": [0, "C4 D4 E4 F4 G4 A4 B4 C5"],
      "-3": [-1, "F4 G4 A4 Bb4 C5 D5 E5 F5"],
      "-4": [-2, "Bb3 C4 D4 Eb4 F4 G4 A4 Bb4"],
      "-1": [1, "G3 A3 B3 C4 D4 E4 F#4 G4"],
    },
    "sax-alto": {
      "-2": [1, "G4 A4 B4 C5 D5 E5 F#5 G5"],
      "-3": [0, "C5 D5 E5 F5 G5 A5 B5 C6"],
      "-4": [-1, "F4 G4 A4 Bb4 C5 D5 E5 F5"],
      "-1": [2, "D4 E4 F#4 G4 A4 B4 C#5 D5"],
    },
    horn: {
      "-2": [-1, "F4 G4 A4 Bb4 C5 D5 E5 F5"],
      "-3": [-2, "Bb3 C4 D4 Eb4 F4 G4 A4 Bb4"],
      "-4": [-3, "Eb4 F4 G4 Ab4 Bb4 C5 D5 Eb5"],
      "-1": [0, "C4 D4 E4 F4 G4 A4 B4 C5"],
    },
    tuba: {
      "-2": [-2, "Bb1 C2 D2 Eb2 F2 G2 A2 Bb2"],
      "-3": [-3, "Eb2 F2 G2 Ab2 Bb2 C3 D3 Eb3"],
      "-4": [-4, "Ab1 Bb1 C2 Db2 Eb2 F2 G2 Ab2"],
      "-1": [-1, "F1 G1 A1 Bb1 C2 D2 E2 F2"],
    },
  };
  const names = (notes: string) => notes.replaceAll(/-?\d/g, "");

  it.each(Object.keys(SCALES))("spells four keys for the %s", (id) => {
    for (const [key, [fifths, notes]] of Object.entries(SCALES[id]!)) {
      const { score } = buildBlock(
        usualBlock("scales", "b", { keys: [Number(key)], direction: "up", countsOff: 0 }),
      )(player(id));
      expect(names(written(score))).toBe(names(notes));
      expect(signatures(score)).toEqual([fifths]);
    }
  });

  it("plays two octaves where they lie; the others play in the same moments what they reach, and rest for the rest", () => {
    const form = (id: string, stage: Stage) =>
      buildBlock(usualBlock("scales", "b", { octaves: 2, countsOff: 0 }))(player(id, stage))
        .score.parts[0].measures.flatMap((measure) => measure.events)
        .filter((event) => !event.tieStop)
        .map((event) => (event.pitch ? pitchId(event.pitch) : "-"))
        .join(" ");
    expect(form("sax-alto", "widening")).toMatch(/^G4 A4 B4 C5 D5 E5 F#5 G5 - B4 C5/);
    const clarinet = buildBlock(usualBlock("scales", "b", { octaves: 2, keys: [-1] }))(player("clarinet"));
    expect(written(clarinet.score)).toBe(
      "G3 A3 B3 C4 D4 E4 F#4 G4 A4 B4 C5 D5 E5 F#5 G5 F#5 E5 D5 C5 B4 A4 G4 F#4 E4 D4 C4 B3 A3 G3",
    );
    expect(form("flute", "five-notes").replaceAll(/( -)+/g, " -")).toBe(
      "Bb4 C5 D5 Eb5 F5 - Bb4 C5 D5 Eb5 F5 - Bb4 - F5 Eb5 D5 C5 Bb4 - F5 Eb5 D5 C5 Bb4",
    );
  });

  it("plays thirds, 1-5-1 and falling intervals", () => {
    const up = (pattern: Families["scales"]["pattern"]) =>
      notesOf("scales", { pattern, direction: "up", countsOff: 0 }, "clarinet");
    expect(up("thirds")).toBe("C4 E4 D4 F4 E4 G4 F4 A4 G4 B4 C5");
    expect(up("1-5-1")).toBe("C4 G4 C4");
    expect(up("falling-intervals")).toBe("C5 B4 C5 A4 C5 G4 C5 F4 C5 E4 C5 D4 C5 C4");
    expect(up("five-note")).toBe("C4 D4 E4 F4 G4");
  });

  it("slurs bar by bar, tongued first where both are asked for", () => {
    const { score } = buildBlock(
      usualBlock("scales", "b", { tonguing: "tongued-then-slurred", countsOff: 0 }),
    )(player("clarinet"));
    const slurred = timeline(score).notes.map((note) => note.slurred);
    expect(slurred.slice(0, 15)).toEqual(Array(15).fill(false));
    expect(slurred.slice(15, 20)).toEqual([false, true, true, true, false]);
  });
});

describe("slurs of those who rest on a step out of reach", () => {
  it("end at the rest and begin anew after it, on every instrument and stage", () => {
    for (const family of ["scales", "half-step-cycle", "chromatic-scale"] as const)
      for (const instrument of INSTRUMENTS.filter(({ ranges }) => ranges))
        for (const stage of ["five-notes", "small-tunes"] as const) {
          const { score } = buildBlock(usualBlock(family, "b", { tonguing: "slurred" } as never))({
            instrument,
            stage,
          });
          let open = false;
          for (const event of score.parts[0].measures.flatMap((measure) => measure.events)) {
            if (event.kind === "rest")
              expect([instrument.id, family, stage, open]).toEqual([instrument.id, family, stage, false]);
            if (event.slurStart !== undefined) open = true;
            if (event.slurStop !== undefined) open = false;
          }
          expect([instrument.id, family, stage, open]).toEqual([instrument.id, family, stage, false]);
        }
  });
});

describe("cycles and chromatic lines", () => {
  it("moves 1-5-1 up by semitones from concert B♭", () => {
    expect(notesOf("half-step-cycle", { steps: 4 }, "clarinet")).toBe(
      "C4 G4 C4 Db4 Ab4 Db4 D4 A4 D4 Eb4 Bb4 Eb4",
    );
  });

  it("ends where the instrument's range for its stage ends", () => {
    // Five notes on the trumpet are C4 to G4: only the first fifth lies inside.
    const part = buildBlock(usualBlock("half-step-cycle", "b"))(player("trumpet", "five-notes"));
    expect(written(part.score)).toBe("C4 G4 C4");
    expect(part.cutShort).toEqual({ kind: "cycle", played: 1, of: 6 });
    expect(part.counts).toBe(72);
  });

  it("descends seven chromatic steps from concert F", () => {
    // Common practice, no published source: the last step, a fifth, returns to the first fingering on trumpet, trombone,
    // euphonium and tuba; on the F horn F is 1 and C is open.
    expect(notesOf("chromatic-descent", {}, "trumpet")).toBe(
      "G4 F#4 G4 G4 F4 G4 G4 E4 G4 G4 Eb4 G4 G4 D4 G4 G4 Db4 G4 G4 C4 G4",
    );
    const ends = (id: string) => {
      const notes = timeline(buildBlock(usualBlock("chromatic-descent", "b"))(player(id)).score).notes.slice(
        -2,
      );
      return notes.map(({ written: pitch }) =>
        fingeringText(fingeringFor(instrumentById(id), pitch!)!.choices[0]!),
      );
    };
    for (const id of ["trumpet", "trombone", "euphonium", "tuba"]) expect(new Set(ends(id)).size, id).toBe(1);
    expect(new Set(ends("horn"))).toEqual(new Set(["1", "open"]));
  });

  it("spells the chromatic scale sharp upwards and flat downwards", () => {
    expect(notesOf("chromatic-scale", { from: "F" }, "trumpet")).toBe(
      "G3 G#3 A3 A#3 B3 C4 C#4 D4 D#4 E4 F4 F#4 G4 Gb4 F4 E4 Eb4 D4 Db4 C4 B3 Bb3 A3 Ab3 G3",
    );
  });
});

describe("long tones, range, attacks, air", () => {
  it("holds 5-4-3-2-1 eight counts each; while brass rests the others may hold once more", () => {
    expect(notesOf("long-tones", {}, "clarinet")).toBe("G4 F4 E4 D4 C4");
    const again = buildBlock(usualBlock("long-tones", "b", { others: "again" }));
    const lengths = (id: string) =>
      timeline(again(player(id)).score).notes.map((note) => note.durationQuarters);
    expect(lengths("trumpet")).toEqual([8, 8, 8, 8, 8]);
    expect(lengths("clarinet")).toEqual(Array(10).fill(7));
  });

  it("climbs one semitone at a time from the highest comfortable note and comes back", () => {
    expect(notesOf("range-steps", { steps: 2 }, "trumpet", "small-tunes")).toBe("C5 Db5 D5 C5");
    expect(notesOf("range-steps", { steps: 2, direction: "down" }, "trombone", "small-tunes")).toBe(
      "Bb2 A2 Ab2 Bb2",
    );
    // Each stage from what is comfortable there; B♭ is never A♯.
    expect(notesOf("range-steps", { steps: 2 }, "trumpet", "five-notes")).toBe("G4 Ab4 A4 G4");
    expect(notesOf("range-steps", { steps: 2 }, "clarinet", "widening")).toBe("Bb4 B4 C5 Bb4");
  });

  it("puts the signs of attack on one note", () => {
    const { score } = buildBlock(usualBlock("articulation", "b", { countsEach: 4 }))(player("sax-alto"));
    const signs = score.parts[0].measures
      .filter((measure) => measure.events.length > 1)
      .map((measure) => measure.events[0]!.articulations ?? []);
    expect(signs).toEqual([[], ["accent"], ["staccato"], ["strong-accent"]]);
    expect(new Set(written(score).split(" "))).toEqual(new Set(["D5"]));
  });

  it("keeps one breath in the one-breath drill and silence between stopped notes", () => {
    const rests = (drill: Families["tonguing"]["drill"]) =>
      buildBlock(usualBlock("tonguing", "b", { drill, values: ["quarter"], rounds: 1 }))(player("flute"))
        .score.parts[0].measures.slice(0, 2)
        .flatMap((measure) => measure.events)
        .filter((event) => event.kind === "rest").length;
    expect(rests("one-breath")).toBe(0);
    expect(rests("stopped-air")).toBe(4);
  });

  it("breathes on 4 and blows on 5 to 8, three times", () => {
    // Common practice, no published source.
    const line = timeline(buildBlock(usualBlock("breathing", "b"))(player("flute")).score);
    expect(line.notes.map((note) => [note.lyric, note.onsetQuarters, note.durationQuarters])).toEqual([
      ["in", 3, 1],
      ["blow", 4, 4],
      ["in", 11, 1],
      ["blow", 12, 4],
      ["in", 19, 1],
      ["blow", 20, 4],
    ]);
  });

  it("names the piece each instrument sounds on first", () => {
    const words = (id: string) =>
      buildBlock(usualBlock("first-sounds", "b"))(player(id)).score.parts[0].measures[0]!.words;
    expect(words("flute")).toMatch(/^head joint/);
    expect(words("clarinet")).toMatch(/^mouthpiece and barrel/);
    expect(words("tuba")).toMatch(/^mouthpiece, buzzing/);
  });
});

describe("slurs", () => {
  const pairs = (id: string, stage: Stage = "widening", variant: string | null = null, steps = 7) =>
    slurPairs({ ...USUAL.slurs, steps }, player(id, stage, variant));
  const names = (all: ReturnType<typeof slurPairs>) =>
    all.map((pair) => (pair ? `${pitchId(pair.first)}-${pitchId(pair.second)}` : "rest")).join(" ");
  const partialOf = (fingering: Fingering) => (fingering.kind === "holes" ? 0 : fingering.partial);

  /**
   * Written by hand from the harmonic series (partial n at 12 log2 n semitones above the fundamental) and the valve table:
   * 2 = 1 semitone, 1 = 2, 1-2 = 3, 2-3 = 4, 1-3 = 5, 1-2-3 = 6; position n is n-1 semitones. Each row: pairs, fingerings,
   * partials.
   */
  const VALVES = ["open", "2", "1", "1-2", "2-3", "1-3", "1-2-3"];
  const SLIDE = ["1st", "2nd", "3rd", "4th", "5th", "6th", "7th"].map((place) => `${place} position`);
  const BRASS: [
    id: string,
    variant: string | null,
    pairs: string,
    fingerings: string[],
    partials: [number, number],
  ][] = [
    ["trumpet", null, "G4-C4 F#4-B3 F4-Bb3 E4-A3 Eb4-Ab3 D4-G3 Db4-Gb3", VALVES, [3, 2]],
    ["flugelhorn", null, "G4-C4 F#4-B3 F4-Bb3 E4-A3 Eb4-Ab3 D4-G3 Db4-Gb3", VALVES, [3, 2]],
    ["euphonium-treble", null, "G4-C4 F#4-B3 F4-Bb3 E4-A3 Eb4-Ab3 D4-G3 Db4-Gb3", VALVES, [3, 2]],
    ["trombone", null, "F3-Bb2 E3-A2 Eb3-Ab2 D3-G2 Db3-Gb2 C3-F2 B2-E2", SLIDE, [3, 2]],
    ["trombone", "trigger", "F3-Bb2 E3-A2 Eb3-Ab2 D3-G2 Db3-Gb2 C3-F2 B2-E2", SLIDE, [3, 2]],
    ["euphonium", null, "F3-Bb2 E3-A2 Eb3-Ab2 D3-G2 Db3-Gb2 C3-F2 B2-E2", VALVES, [3, 2]],
    ["tuba", null, "F2-Bb1 E2-A1 Eb2-Ab1 D2-G1 Db2-Gb1 C2-F1 B1-E1", VALVES, [3, 2]],
    ["horn", "single-f", "C5-C4 B4-B3 Bb4-Bb3 A4-A3 Ab4-Ab3 G4-G3 F#4-F#3", VALVES, [8, 4]],
    ["horn", "single-b-flat", "C4-F4 B3-E4 Bb3-Eb4 A3-D4 Ab3-Db4 G3-C4 F#3-B3", VALVES, [3, 4]],
    [
      "horn",
      "double",
      "C4-F4 B3-E4 Bb3-Eb4 A3-D4 Ab3-Db4 G3-C4 F#3-B3",
      VALVES.map((each) => `T ${each}`),
      [3, 4],
    ],
  ];

  it.each(
    BRASS,
  )("%s (%s) slurs on one fingering between its partials", (id, variant, wanted, fingerings, partials) => {
    const all = pairs(id, "widening", variant);
    expect(names(all)).toBe(wanted);
    expect(all.map((pair) => fingeringText(pair!.fingerings![0]))).toEqual(fingerings);
    expect(all.map((pair) => fingeringText(pair!.fingerings![1]))).toEqual(fingerings);
    for (const pair of all) expect(pair!.fingerings!.map(partialOf)).toEqual(partials);
  });

  it("gives the clarinet the twelfth from C4 to G5, not from G3 to D5", () => {
    // Common practice, no published source: brass F-B♭ goes with clarinet C4-G5.
    expect(names(pairs("clarinet")).split(" ")[0]).toBe("C4-G5");
    expect(pairs("clarinet")[0]!.by).toBe("register key");
    expect(names(pairs("clarinet", "small-tunes", null, 1))).toBe("G4-C4");
  });

  it("gives saxes, flutes, oboes and bassoons an octave with the same fingers", () => {
    expect(names(pairs("sax-alto", "small-tunes", null, 2))).toBe("G4-G5 F#4-F#5");
    expect(names(pairs("flute", "small-tunes", null, 2))).toBe("Bb4-Bb5 A4-A5");
    expect(names(pairs("bassoon", "small-tunes", null, 2))).toBe("Bb2-Bb3 A2-A3");
    expect(names(pairs("oboe", "small-tunes", null, 2))).toBe("Bb4-Bb5 A4-A5");
  });

  it("slurs where the notes are learned, on bars too", () => {
    expect(names(pairs("bells", "widening", null, 1))).toBe("F5-Bb4");
    expect(names(pairs("xylophone", "widening", null, 1))).toBe("F5-Bb4");
    expect(names(pairs("string-bass", "widening", null, 1))).toBe("F3-Bb2");
  });

  it("sounds well together at both moments of every step", () => {
    // Unisons, octaves, fourths and fifths: nothing else is left between any two instruments that play.
    for (const stage of ["small-tunes", "widening"] as const)
      for (let step = 0; step < 7; step++) {
        const sounding = INSTRUMENTS.flatMap((instrument) => {
          const pair = slurPairs({ ...USUAL.slurs, steps: 7 }, { instrument, stage })[step];
          return pair
            ? [
                [pair.first, pair.second].map((pitch) =>
                  pitchToMidi(transposePitch(pitch, instrument.soundsBy)),
                ),
              ]
            : [];
        });
        expect(sounding.length).toBeGreaterThan(5);
        for (const moment of [0, 1])
          for (const a of sounding)
            for (const b of sounding) expect([0, 5, 7]).toContain(Math.abs(a[moment]! - b[moment]!) % 12);
      }
  });

  it("writes whole, half and quarter notes under slurs and then rests", () => {
    const part = buildBlock(usualBlock("slurs", "b", { steps: 1 }))(player("trumpet"));
    const notes = timeline(part.score).notes;
    expect(notes.map((note) => note.durationQuarters)).toEqual([4, 4, 2, 2, 2, 2, 1, 1, 1, 1, 1, 1, 1, 1]);
    expect(notes.map((note) => note.slurred)).toEqual(
      [0, 2, 6].reduce((all, at) => all.with(at, false), Array(14).fill(true)),
    );
    expect(part.counts - part.playingCounts).toBe(8);
    expect(notes[0]!.lyric).toBe("0");
  });
});

describe("chorale", () => {
  const VOICES: [string, string][] = [
    ["tuba", "bass"],
    ["trombone", "tenor"],
    ["horn", "alto"],
    ["flute", "soprano"],
  ];
  const sounding = (id: string) =>
    timeline(buildBlock(usualBlock("chorale", "b"))(player(id)).score).notes.map((note) => note.midi!);

  it("sounds I IV I V vi IV V I in four voices", () => {
    const chords = Array.from({ length: 8 }, (_, i) =>
      [...new Set(VOICES.map(([id]) => (sounding(id)[i]! - 10 + 120) % 12))].sort((a, b) => a - b),
    );
    const [I, IV, V, vi] = [
      [0, 4, 7],
      [0, 5, 9],
      [2, 7, 11],
      [0, 4, 9],
    ];
    // The last chord has no fifth: the leading note rises, as in any harmony book.
    expect(chords).toEqual([I, IV, I, V, vi, IV, V, [0, 4]]);
  });

  it("moves without parallel fifths or octaves", () => {
    // Rule of part-writing: common practice, no published source.
    const parts = VOICES.map(([id]) => sounding(id));
    for (let a = 0; a < 4; a++)
      for (let b = a + 1; b < 4; b++)
        for (let i = 1; i < 8; i++) {
          const before = Math.abs(parts[a]![i - 1]! - parts[b]![i - 1]!) % 12;
          const after = Math.abs(parts[a]![i]! - parts[b]![i]!) % 12;
          const moves = parts[a]![i] !== parts[a]![i - 1];
          expect(
            moves && before === after && (after === 0 || after === 7),
            `${VOICES[a]![1]} ${VOICES[b]![1]} ${i}`,
          ).toBe(false);
        }
  });

  it("marks the low voices louder than the high ones, and gives everybody the melody in unison", () => {
    const level = (id: string) =>
      buildBlock(usualBlock("chorale", "b"))(player(id)).score.parts[0].measures[0]!.events[0]!.dynamic;
    expect(VOICES.map(([id]) => level(id))).toEqual(["f", "mf", "mp", "p"]);
    expect(notesOf("chorale", { voices: "unison" }, "tuba").replaceAll(/\d/g, "")).toBe(
      "D Eb D C Bb Eb C Bb",
    );
  });
});

describe("impossible requests", () => {
  const refused = (block: Block): { message: string; offer: Block } => {
    try {
      buildBlock(block);
    } catch (error) {
      if (error instanceof WarmUpError) return error;
      throw error;
    }
    throw new Error("it was built");
  };
  it.each([
    [
      usualBlock("long-tones", "b", { bpm: 5 }),
      "5 beats a minute cannot be played; the nearest that can is 30.",
    ],
    [
      usualBlock("long-tones", "b", { bpm: 500 }),
      "500 beats a minute cannot be played; the nearest that can is 240.",
    ],
    [
      usualBlock("long-tones", "b", { countsOn: 0 }),
      "0 counts on cannot be played; the nearest that can is 2.",
    ],
    [usualBlock("slurs", "b", { steps: 9 }), "9 steps cannot be played; the nearest that can is 7."],
    [usualBlock("scales", "b", { keys: [] }), "Scales need at least one key, such as concert B♭."],
    [
      { ...usualBlock("scales", "b"), tempo: { kind: "ladder" as const, bpms: [] } },
      "A tempo ladder has at least one tempo, such as 80.",
    ],
  ])("says one sentence and offers the nearest block that can be played (%#)", (block, sentence) => {
    const { message, offer } = refused(block);
    expect(message).toBe(sentence);
    expect(buildBlock(offer)(player("flute")).counts).toBeGreaterThan(0);
  });
});

describe("a routine and its clock", () => {
  const widening = TEMPLATES.at(-1)!.routine;
  const everybody = INSTRUMENTS.map((instrument) => ({ instrument, stage: "widening" as const }));

  it("adds counts, count-offs and changeovers exactly", () => {
    const routine = {
      ...widening,
      changeoverSec: 10,
      pieceBpm: 120,
      blocks: [
        usualBlock("breathing", "a", { bpm: 60 }),
        {
          ...usualBlock("scales", "b", { countsOff: 0 }),
          tempo: { kind: "ladder" as const, bpms: [60, 120] },
        },
        { ...usualBlock("long-tones", "c", { degrees: [1] }), tempo: { kind: "piece" as const } },
      ],
    };
    // 24 counts + 4 at 60; 16 + 4 at 60 and at 120; 16 + 4 at the piece's 120.
    const clock = clockOf(routine);
    expect(clock.blocks.map((block) => block.seconds)).toEqual([28, 30, 10]);
    expect(clock.blocks.map((block) => block.fromSec)).toEqual([0, 38, 78]);
    expect(clock.totalSec).toBe(88);
  });

  it("plays every event where the clock says, within one sample after ten minutes", () => {
    const long = {
      ...widening,
      blocks: [...widening.blocks, ...widening.blocks.map((block) => ({ ...block, id: `${block.id}x` }))],
    };
    const clock = clockOf(long);
    expect(clock.totalSec).toBeGreaterThan(600);
    const plan = routinePlan(long, player("trumpet"));
    const clicks = plan.events.filter((event) => event.kind === "count" || event.kind === "click");
    let at = 0;
    let index = 0;
    long.blocks.forEach((block, i) => {
      if (i > 0) at += long.changeoverSec;
      for (const bpm of temposOf(block.tempo, long.pieceBpm)) {
        const beats = clock.blocks[i]!.counts + 4;
        for (let beat = 0; beat < beats; beat++, index++)
          expect(Math.abs(clicks[index]!.atSec - (at + (beat * 60) / bpm))).toBeLessThan(1 / 48000);
        at += (beats * 60) / bpm;
      }
    });
    expect(index).toBe(clicks.length);
    expect(plan.totalSec).toBeCloseTo(at, 9);
  });

  it("templates stay inside ten minutes and play on every instrument of their stage", () => {
    for (const { routine, stage } of TEMPLATES) {
      expect(clockOf(routine).overSec).toBe(0);
      for (const block of routine.blocks)
        for (const instrument of INSTRUMENTS)
          expect(
            buildBlock(block)({ instrument, stage }).playingCounts,
            `${block.family} ${instrument.id}`,
          ).toBeGreaterThan(0);
    }
  });

  it("fits a budget by fewer keys, then fewer times, and keeps the rests", () => {
    const { routine, changes, overSec } = fitToBudget({ ...widening, budgetSec: 420 });
    expect(overSec).toBe(0);
    expect(clockOf(routine).totalSec).toBeLessThanOrEqual(420.05);
    expect(changes[0]).toMatchObject({ kind: "keys", block: { family: "scales" } });
    expect(changes[0]!.savedSec).toBeGreaterThan(0);
    for (const block of routine.blocks) {
      const before = widening.blocks.find((each) => each.id === block.id)!;
      if ("countsOff" in block && "countsOff" in before) expect(block.countsOff).toBe(before.countsOff);
    }
  });

  it("says what cannot be fitted", () => {
    const { overSec, changes } = fitToBudget({ ...widening, budgetSec: 60 });
    expect(overSec).toBeGreaterThan(60);
    expect(changes.at(-1)).toMatchObject({ kind: "changeover", block: null });
  });

  it("weighs playing against resting for the hardest-worked brass", () => {
    const routine = {
      ...widening,
      changeoverSec: 0,
      blocks: [usualBlock("long-tones", "a", { degrees: [1], bpm: 60 })],
    };
    const balance = restBalance(routine, everybody)!;
    expect([balance.playingSec, balance.restingSec]).toEqual([8, 12]);
    const muted = { ...routine, blocks: routine.blocks.map((block) => ({ ...block, mutedFor: ["low"] })) };
    expect(restBalance(muted, [{ ...player("tuba"), groups: ["low"] }])!.playingSec).toBe(0);
    expect(restBalance(routine, [player("flute")])).toBeNull();
  });
});

describe("a whole band at once", () => {
  const everybody = INSTRUMENTS.flatMap((instrument) =>
    (["five-notes", "small-tunes", "widening"] as const).map((stage) => ({ instrument, stage })),
  );
  /** Sounding notes of every kind of player, cut into the moments at which somebody begins or ends. */
  const moments = (block: Block): { at: number; midis: Set<number>; who: string }[] => {
    const build = buildBlock(block);
    const voices = everybody.map((kind) =>
      timeline(build(kind).score).notes.filter((note) => note.midi !== null),
    );
    const places = [...new Set(voices.flat().map((note) => note.onsetQuarters))].sort((a, b) => a - b);
    return places.map((at) => {
      const sounding = voices.flatMap((notes, i) => {
        const note = notes.find(
          (each) => each.onsetQuarters <= at + 1e-9 && each.onsetQuarters + each.durationQuarters > at + 1e-9,
        );
        return note ? [{ midi: note.midi!, id: everybody[i]!.instrument.id }] : [];
      });
      return {
        at,
        midis: new Set(sounding.map(({ midi }) => midi)),
        who: sounding.map(({ id, midi }) => `${id} ${midi}`).join(", "),
      };
    });
  };
  // Unison, octave, third, sixth, fourth, fifth: consonances of any harmony book. Range steps are each player's own.
  const CONSONANT = new Set([0, 3, 4, 5, 7, 8, 9]);
  const BLOCKS: [string, Block][] = [
    ["five-note scales", usualBlock("scales", "b", { pattern: "five-note" })],
    ["scales of one octave", usualBlock("scales", "b", { keys: [-2, -3, -1, -4] })],
    ["scales of two octaves", usualBlock("scales", "b", { octaves: 2, keys: [-1] })],
    ["scales in quarters and eighths", usualBlock("scales", "b", { rhythm: "quarter-and-eighth" })],
    ["scales downwards", usualBlock("scales", "b", { direction: "down" })],
    ["thirds", usualBlock("scales", "b", { pattern: "thirds", rhythm: "eighth" })],
    ["falling intervals", usualBlock("scales", "b", { pattern: "falling-intervals" })],
    ["long tones", usualBlock("long-tones", "b", { others: "again" })],
    ["half-step cycle", usualBlock("half-step-cycle", "b")],
    ["chromatic descent", usualBlock("chromatic-descent", "b")],
    ["chromatic scale", usualBlock("chromatic-scale", "b", { octaves: 2 })],
    ["chorale", usualBlock("chorale", "b")],
    ["chorale in unison", usualBlock("chorale", "b", { voices: "unison" })],
    ["articulation", usualBlock("articulation", "b")],
  ];

  it.each(BLOCKS)("sounds well at every moment: %s", (_, block) => {
    const all = moments(block);
    expect(all.length).toBeGreaterThan(3);
    for (const { at, midis, who } of all)
      for (const a of midis)
        for (const b of midis)
          expect(CONSONANT.has(Math.abs(a - b) % 12), `count ${at + 1}: ${a} and ${b} (${who})`).toBe(true);
  });

  it("ends patterns on the beat, whatever the values", () => {
    for (const pattern of ["major", "five-note", "thirds", "falling-intervals"] as const)
      for (const rhythm of ["half", "quarter", "eighth", "quarter-and-eighth"] as const)
        for (const direction of ["up", "down", "up-and-down"] as const) {
          const { score } = buildBlock(usualBlock("scales", "b", { pattern, rhythm, direction }))(
            player("flute"),
          );
          const last = timeline(score).notes.at(-1)!;
          expect([pattern, rhythm, direction, last.onsetQuarters % 1]).toEqual([
            pattern,
            rhythm,
            direction,
            0,
          ]);
        }
    expect(notesOf("scales", { pattern: "thirds", countsOff: 0 }, "trumpet").split(" ").at(-1)).toBe("C4");
  });

  it("keeps the drums playing to the end of the form, though beginners rest", () => {
    const build = buildBlock(usualBlock("scales", "b", { countsOff: 0 }));
    const last = (id: string, stage: Stage) => {
      const note = timeline(build(player(id, stage)).score).notes.at(-1)!;
      return note.onsetQuarters + note.durationQuarters;
    };
    expect(last("snare", "five-notes")).toBe(last("flute", "widening"));
  });

  it("has no voice above the next higher one in the chorale", () => {
    const ORDER = ["bass", "tenor", "alto", "soprano"] as const;
    for (const stage of ["small-tunes", "widening"] as const) {
      const build = buildBlock(usualBlock("chorale", "b"));
      const lines = INSTRUMENTS.filter((each) => each.ranges && !each.drums).map((instrument) => ({
        voice: ORDER.indexOf(instrument.voice as never),
        id: instrument.id,
        part: build({ instrument, stage }),
      }));
      for (const { part, id } of lines) expect([id, part.cutShort]).toEqual([id, null]);
      for (const low of lines)
        for (const high of lines.filter((each) => each.voice > low.voice))
          timeline(low.part.score).notes.forEach((note, i) => {
            const above = timeline(high.part.score).notes[i]!;
            expect(note.midi!, `${low.id} under ${high.id}, chord ${i + 1}`).toBeLessThanOrEqual(above.midi!);
          });
    }
  });

  it("lets a beginner with five notes play every note of the chorale in unison", () => {
    const build = buildBlock(usualBlock("chorale", "b", { voices: "unison" }));
    for (const instrument of INSTRUMENTS)
      expect([instrument.id, build({ instrument, stage: "five-notes" }).cutShort]).toEqual([
        instrument.id,
        null,
      ]);
  });

  it("speaks of breath and tongue to those who blow", () => {
    const words = (id: string, family: Family = "tonguing") =>
      buildBlock(usualBlock(family, "b"))(player(id, "small-tunes")).score.parts[0].measures[0]!.words;
    expect(words("trumpet")).toBe("one unbroken breath, only the tongue moves");
    for (const id of ["bells", "string-bass", "snare", "timpani"])
      for (const family of ["tonguing", "slurs"] as const)
        expect(words(id, family) ?? "").not.toMatch(/breath|tongue|air|lips/);
  });
});

describe("timpani", () => {
  it("play tonic and dominant, tuned on two drums", () => {
    // In B♭ major: B♭2 on the lower drum, F3 on the upper one. Under 1, 3, 4 and 6 the tonic, under 2, 5 and 7 the dominant:
    // thirds, fourths, fifths and sixths, by hand.
    expect(notesOf("scales", { direction: "up", countsOff: 0 }, "timpani")).toBe(
      "Bb2 F3 Bb2 Bb2 F3 Bb2 F3 Bb2",
    );
    expect(notesOf("scales", { keys: [-3], direction: "up", countsOff: 0 }, "timpani")).toBe(
      "Eb3 Bb2 Eb3 Eb3 Bb2 Eb3 Bb2 Eb3",
    );
  });

  it("rest where neither drum goes with a note", () => {
    // Six steps down from concert F, tuned to F and C: E, E♭, D, D♭, C go with one of the two, B with neither.
    expect(notesOf("chromatic-descent", { steps: 6 }, "timpani")).toBe(
      "F2 C3 F2 F2 C3 F2 F2 F2 F2 F2 F2 F2 F2 C3 F2 F2 F2",
    );
  });
});
