import { describe, expect, it } from "vitest";
import { type Habits, recordTake, steadyHabits } from "../../demo/players";
import { type PlayedNote, synthesise } from "../../demo/synth";
import { type Pcm, resample } from "../../src/core/audio";
import { assess, ENGINE_VERSION } from "../../src/core/listen";
import { causesOf } from "../../src/core/progress";
import { type Score, timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";

const tune = line(
  "Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 | F5:1 Eb5:1 D5:1 C5:1 | D5:2 C5:1 Bb4:1 | F5:1 D5:1 Eb5:1 C5:1 | Bb4:4",
  { bpm: 88 },
);
const QUIET_ROOM = { noise: 0.003, echo: 0.2 };

/** Plays a part note by note as a test asks, with the timing of the score at some tempo. */
function play(
  part: Score,
  instrumentId: string,
  bpm: number,
  change: (notes: PlayedNote[]) => PlayedNote[],
): Pcm {
  const notes = timeline(part, { bpm }).notes.map(
    (note): PlayedNote => ({
      atSec: 0.6 + note.onsetSec,
      lengthSec: note.durationSec * 0.9,
      midi: note.midi,
      loudness: 0.7,
      legato: note.slurred,
    }),
  );
  const changed = change(notes);
  const last = changed.at(-1)!;
  return synthesise(changed, instrumentId, last.atSec + last.lengthSec + 0.8, QUIET_ROOM, 11);
}

function take(instrumentId: string, habits: Partial<Habits>, seed = 3, score = tune, bpm = 88) {
  const { part } = partFor(score, instrumentId);
  const performance = recordTake(part, instrumentId, bpm, { ...steadyHabits, ...habits }, QUIET_ROOM, seed);
  return { part, performance, result: assess(part, performance.pcm, { bpm, instrumentId }) };
}

const verdicts = (result: ReturnType<typeof assess>) => result.notes.map((note) => note.verdict);
const count = timeline(tune).notes.length;

describe("a clean take", () => {
  it.each([
    "flute",
    "oboe",
    "clarinet",
    "clarinet-bass",
    "sax-alto",
    "sax-bari",
    "trumpet",
    "horn",
    "trombone",
    "euphonium",
    "tuba",
    "bells",
  ])("of the %s has every note right and in place", (instrumentId) => {
    const { result, performance } = take(instrumentId, { unsteady: 0.004 });
    expect(result.take.status).toBe("assessed");
    expect(verdicts(result)).toEqual(Array(count).fill("ok"));
    expect(result.extras).toEqual([]);
    expect(result.breaks).toEqual([]);
    expect(result.engineVersion).toBe(ENGINE_VERSION);
    expect(Math.abs(result.take.tempoBpm! / 88 - 1)).toBeLessThan(0.02);
    result.notes.forEach((note, i) => {
      expect(Math.abs(note.onset! - performance.played[i]!.atSec)).toBeLessThan(0.06);
      expect(Math.abs(note.playedMidi! - performance.played[i]!.midi!)).toBeLessThan(0.15);
    });
  });
});

describe("one mistake does not shift the notes after it", () => {
  const { part } = partFor(tune, "clarinet");
  const judge = (pcm: Pcm) => assess(part, pcm, { bpm: 88, instrumentId: "clarinet" });
  const others = (result: ReturnType<typeof assess>, ...except: number[]) =>
    result.notes.filter((note) => !except.includes(note.index));

  it("a missed note", () => {
    const result = judge(play(part, "clarinet", 88, (notes) => notes.filter((_, i) => i !== 7)));
    expect(result.notes[7]).toMatchObject({
      verdict: "missed",
      kind: null,
      onset: null,
      offset: null,
      playedMidi: null,
      cents: null,
      timing: null,
    });
    expect(others(result, 7).every((note) => note.verdict === "ok" && note.timing === "ok")).toBe(true);
  });

  it("a missed note that the player does not wait for", () => {
    const result = judge(
      play(part, "clarinet", 88, (notes) =>
        notes
          .filter((_, i) => i !== 7)
          .map((note, i) => (i >= 7 ? { ...note, atSec: note.atSec - 60 / 88 } : note)),
      ),
    );
    expect(result.notes[7]!.verdict).toBe("missed");
    expect(others(result, 7).map((note) => note.verdict)).toEqual(Array(count - 1).fill("ok"));
  });

  it("an extra note", () => {
    const result = judge(
      play(part, "clarinet", 88, (notes) => [
        ...notes.slice(0, 8),
        { ...notes[8]!, lengthSec: 0.28 },
        { ...notes[8]!, midi: notes[8]!.midi! + 4, atSec: notes[8]!.atSec + 0.33, lengthSec: 0.28 },
        ...notes.slice(9),
      ]),
    );
    expect(verdicts(result)).toEqual(Array(count).fill("ok"));
    expect(result.extras).toHaveLength(1);
    expect(result.extras[0]!.midi).toBeCloseTo(timeline(part).notes[8]!.midi! + 4, 0);
  });

  describe("a wrong start that is put right", () => {
    const written = timeline(part).notes[6]!.midi!;
    const pcm = play(part, "clarinet", 88, (notes) => [
      ...notes.slice(0, 6),
      { ...notes[6]!, midi: written + 2, lengthSec: 0.26 },
      { ...notes[6]!, atSec: notes[6]!.atSec + 0.3, lengthSec: 0.3 },
      ...notes.slice(7),
    ]);

    it("is told as that: the note is right and in time, and no note is too many", () => {
      const result = judge(pcm);
      expect(verdicts(result)).toEqual(Array(count).fill("ok"));
      expect(result.extras).toEqual([]);
      expect(result.notes[6]).toMatchObject({ flags: ["corrected"], timing: "ok" });
      expect(result.notes[6]!.playedMidi).toBeCloseTo(written, 0);
      expect(others(result, 6).every(({ flags }) => flags.length === 0)).toBe(true);
      expect(causesOf(result, part).map(({ kind, places }) => [kind, places.length])).toEqual([
        ["corrected", 1],
      ]);
    });

    it("counts as wrong where the director has it so, at the pitch that was tried", () => {
      const result = assess(part, pcm, { bpm: 88, instrumentId: "clarinet", corrected: "wrong" });
      expect(result.notes[6]).toMatchObject({ verdict: "wrong-pitch", flags: ["corrected"] });
      expect(result.notes[6]!.playedMidi).toBeCloseTo(written + 2, 0);
      expect(others(result, 6).every(({ verdict }) => verdict === "ok")).toBe(true);
    });
  });

  it.each([0.75, 1.25])("a tempo of %f times the mark, judged against its own beat", (factor) => {
    const result = judge(play(part, "clarinet", 88 * factor, (notes) => notes));
    expect(verdicts(result)).toEqual(Array(count).fill("ok"));
    expect(result.notes.every((note) => note.timing === "ok")).toBe(true);
    expect(Math.abs(result.take.tempoBpm! / (88 * factor) - 1)).toBeLessThan(0.02);
  });

  it("a stop and a restart", () => {
    const result = judge(
      play(part, "clarinet", 88, (notes) => {
        const again = notes[10]!.atSec + 1.6 - notes[6]!.atSec;
        return [
          ...notes.slice(0, 10),
          ...notes.slice(6).map((note) => ({ ...note, atSec: note.atSec + again })),
        ];
      }),
    );
    expect(verdicts(result)).toEqual(Array(count).fill("ok"));
    expect(result.breaks.map((pause) => [pause.kind, pause.measure])).toEqual([["restart", "3"]]);
    expect(result.extras).toEqual([]);
  });

  it("a hesitation, which is no row of late notes", () => {
    const result = judge(
      play(part, "clarinet", 88, (notes) =>
        notes.map((note, i) => (i >= 9 ? { ...note, atSec: note.atSec + 1.3 } : note)),
      ),
    );
    expect(verdicts(result)).toEqual(Array(count).fill("ok"));
    expect(result.breaks.map((pause) => pause.kind)).toEqual(["hesitation"]);
    expect(result.breaks[0]!.seconds).toBeCloseTo(1.3, 0);
    expect(result.notes.filter((note) => note.timing === "late")).toEqual([]);
  });

  it("an early stop, said once", () => {
    const result = judge(play(part, "clarinet", 88, (notes) => notes.slice(0, 12)));
    expect(verdicts(result)).toEqual([...Array(12).fill("ok"), ...Array(count - 12).fill("missed")]);
    expect(result.breaks.map((pause) => pause.kind)).toEqual(["stopped-early"]);
  });
});

describe("a hard take", () => {
  it("with the key ignored in half its notes, a slow beat and a restart is still this line", () => {
    const { result } = take(
      "flute",
      { ignoresSignature: 0.6, tempo: 0.78, restartsAfter: 9, unsteady: 0.03 },
      5,
    );
    expect(result.take.status).toBe("assessed");
    expect(result.breaks.map((pause) => pause.kind)).toContain("restart");
    const named = result.notes.filter((note) => note.verdict === "wrong-pitch");
    expect(named.length).toBeGreaterThan(1);
    expect(new Set(named.map((note) => note.kind))).toEqual(new Set(["key-signature"]));
  });
});

describe("naming what went wrong", () => {
  it("a natural where the key has a flat", () => {
    const { part } = partFor(tune, "flute");
    const at = timeline(part).notes.findIndex((note) => note.written!.letter === "E");
    const result = assess(
      part,
      play(part, "flute", 88, (notes) =>
        notes.map((note, i) => (i === at ? { ...note, midi: note.midi! + 1 } : note)),
      ),
      { bpm: 88, instrumentId: "flute" },
    );
    expect(result.notes[at]).toMatchObject({ verdict: "wrong-pitch", kind: "key-signature" });
    expect(result.notes.filter((note) => note.verdict !== "ok")).toHaveLength(1);
  });

  it("the next partial of a horn", () => {
    const { part } = partFor(tune, "horn");
    const result = assess(
      part,
      play(part, "horn", 88, (notes) =>
        notes.map((note, i) => (i === 0 ? { ...note, midi: note.midi! + 5 } : note)),
      ),
      { bpm: 88, instrumentId: "horn" },
    );
    expect(result.notes[0]).toMatchObject({ verdict: "wrong-pitch", kind: "partial" });
  });

  it("an early note, and only that one", () => {
    const { part } = partFor(tune, "clarinet");
    const result = assess(
      part,
      play(part, "clarinet", 88, (notes) =>
        notes.map((note, i) =>
          i === 11
            ? { ...note, atSec: note.atSec - 0.14 }
            : i === 10
              ? { ...note, lengthSec: note.lengthSec - 0.16 }
              : note,
        ),
      ),
      { bpm: 88 },
    );
    expect(
      result.notes.filter((note) => note.timing !== "ok").map((note) => [note.index, note.timing]),
    ).toEqual([[11, "early"]]);
  });

  it("a long note cut short", () => {
    const { part } = partFor(tune, "trumpet");
    const result = assess(
      part,
      play(part, "trumpet", 88, (notes) =>
        notes.map((note, i) => (i === 2 ? { ...note, lengthSec: 0.3 } : note)),
      ),
      { bpm: 88 },
    );
    expect(
      result.notes.filter((note) => note.length !== "ok").map((note) => [note.index, note.length]),
    ).toEqual([[2, "short"]]);
  });

  it("an instrument 35 cents flat is a tuning remark, not wrong notes", () => {
    const { result } = take("sax-alto", { tuningCents: -35 });
    expect(verdicts(result)).toEqual(Array(count).fill("ok"));
    expect(result.take.tuningCents).toBeGreaterThan(-42);
    expect(result.take.tuningCents).toBeLessThan(-28);
  });

  it("a whole take an octave off carries a flag and no wrong notes", () => {
    const { part } = partFor(tune, "flute");
    const result = assess(
      part,
      play(part, "flute", 88, (notes) => notes.map((note) => ({ ...note, midi: note.midi! - 12 }))),
      { bpm: 88 },
    );
    expect(result.take.flags).toEqual(["octave"]);
    expect(verdicts(result)).toEqual(Array(count).fill("ok"));
  });
});

describe("the take as a whole", () => {
  const { part } = partFor(tune, "clarinet");
  const status = (pcm: Pcm) => assess(part, pcm, { bpm: 88 }).take.status;
  const noise = (gain: number, seconds = 8): Pcm => {
    let seed = 1;
    return {
      sampleRate: 44100,
      samples: Float32Array.from(
        { length: seconds * 44100 },
        () => gain * ((seed = (seed * 1103515245 + 12345) % 2147483648) / 1073741824 - 1),
      ),
    };
  };

  it("silence is too quiet, noise and hum are no music", () => {
    expect(status({ sampleRate: 44100, samples: new Float32Array(44100 * 5) })).toBe("too-quiet");
    expect(status(noise(0.0005))).toBe("too-quiet");
    expect(status(noise(0.3))).toBe("no-music");
  });

  it("another piece is no match, and nothing is invented about its notes", () => {
    const other = partFor(
      line(
        "F5:1/2 G5:1/2 A5:1 G5:1 F5:1 | A5:2 G5:2 | Bb5:1 A5:1/2 G5:1/2 A5:2 | F5:1/2 A5:1/2 G5:1 F5:2 | G5:1 A5:1 Bb5:1 G5:1 | A5:4",
      ),
      "clarinet",
    ).part;
    const result = assess(part, recordTake(other, "clarinet", 88, steadyHabits, QUIET_ROOM, 5).pcm, {
      bpm: 88,
    });
    expect(result.take.status).toBe("no-match");
    expect(result.notes).toEqual([]);
  });

  it.each([8000, 22050, 48000, 96000])("gives the same verdicts at %i Hz", (rate) => {
    const { performance } = take("clarinet", { misses: 0.15 }, 8);
    const reference = assess(part, performance.pcm, { bpm: 88 });
    expect(verdicts(assess(part, resample(performance.pcm, rate), { bpm: 88 }))).toEqual(verdicts(reference));
  });

  it("refuses a take of more than 15 minutes", () => {
    expect(() => assess(part, { sampleRate: 8000, samples: new Float32Array(8000 * 901) })).toThrow(
      /15 minutes/,
    );
  });
});

describe("rhythm", () => {
  const strokes = line("x:1 x:1/2 x:1/2 x:1 r:1 | x:1/2 x:1/2 x:1 x:1 x:1 | x:1 r:1 x:1/2 x:1/2 x:1", {
    fifths: 0,
  });
  const total = timeline(strokes).notes.length;

  it("judges every stroke, and names a missed and an early one", () => {
    const clean = assess(
      strokes,
      play(strokes, "snare", 80, (notes) => notes),
      { bpm: 80 },
    );
    expect(verdicts(clean)).toEqual(Array(total).fill("ok"));
    expect(clean.notes.every((note) => note.timing === "ok" && note.playedMidi === null)).toBe(true);
    const broken = assess(
      strokes,
      play(strokes, "snare", 80, (notes) =>
        notes
          .filter((_, i) => i !== 5)
          .map((note, i) => (i === 8 ? { ...note, atSec: note.atSec - 0.13 } : note)),
      ),
      { bpm: 80 },
    );
    expect(broken.notes[5]!.verdict).toBe("missed");
    expect(broken.notes.filter((note) => note.timing === "early").map((note) => note.index)).toEqual([9]);
  });
});

describe("long tones", () => {
  it("measures seconds, steadiness and drift", () => {
    const tone = line("F5:8", { metre: [8, 4], bpm: 60 });
    const { part } = partFor(tone, "trumpet");
    const pcm = synthesise(
      [{ atSec: 0.5, lengthSec: 9.2, midi: timeline(part).notes[0]!.midi!, loudness: 0.7 }],
      "trumpet",
      11,
      QUIET_ROOM,
      2,
    );
    const result = assess(part, pcm, { mode: "longtone", bpm: 60 });
    expect(result.notes.map((note) => [note.verdict, note.length])).toEqual([["ok", "ok"]]);
    expect(result.longTone!.seconds).toBeGreaterThan(8.9);
    expect(result.longTone!.seconds).toBeLessThan(9.5);
    expect(result.longTone!.attack).toBe("clean");
    expect(result.longTone!.pitchSdCents).toBeLessThan(8);
  });
});

describe("a line whose notes stand in a book only", () => {
  /** The same take, answered as if nobody had entered the notes. */
  function byEar(instrumentId: string, habits: Partial<Habits>, bpm = 88, seed = 3) {
    const { part } = partFor(tune, instrumentId);
    const performance = recordTake(part, instrumentId, 88, { ...steadyHabits, ...habits }, QUIET_ROOM, seed);
    return assess({ ...part, catalogued: true }, performance.pcm, { bpm, instrumentId });
  }

  it.each([
    "flute",
    "clarinet",
    "trombone",
    "bells",
  ])("tells a %s its own beat, and judges no note", (instrumentId) => {
    const result = byEar(instrumentId, { tempo: 0.8 });
    expect([result.take.status, result.notes]).toEqual(["assessed", []]);
    expect(Math.abs(result.byEar!.tempoBpm! / (0.8 * 88) - 1)).toBeLessThan(0.05);
    expect(result.byEar!.attacks).toBeGreaterThan(10);
    expect(result.byEar!.soundingSec).toBeGreaterThan(8);
  });

  it("hears an uneven beat and an instrument that is flat as a whole", () => {
    const steady = byEar("clarinet", { unsteady: 0.004 }).byEar!.unevenMs!;
    const uneven = byEar("clarinet", { unsteady: 0.09 }).byEar!.unevenMs!;
    expect(uneven).toBeGreaterThan(steady + 15);
    expect(Math.abs(byEar("clarinet", { tuningCents: -30 }).take.tuningCents! + 30)).toBeLessThan(6);
  });

  it("still knows silence from playing", () => {
    const { part } = partFor(tune, "clarinet");
    const silence = { samples: new Float32Array(44100 * 3), sampleRate: 44100 };
    expect(assess({ ...part, catalogued: true }, silence).take.status).toBe("too-quiet");
  });
});
