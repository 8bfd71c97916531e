import { describe, expect, it } from "vitest";
import { type PlayedNote, synthesise } from "../../demo/synth";
import type { Pcm } from "../../src/core/audio";
import { assess, assessTaps, extractFeatures } from "../../src/core/listen";
import { calibrated } from "../../src/core/listen/confidence";
import { RIVAL } from "../../src/core/listen/pitch";
import { makeAutocorrelation, powerSpectrum } from "../../src/core/listen/spectrum";
import { barSegments } from "../../src/core/listen/strikes";
import { instrumentNamed } from "../../src/core/music";
import { timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";

const RATE = 44_100;
/** Sum of partials of a pitch; `amounts[n]` is the amplitude of partial n + 1. */
function tone(
  hz: number,
  amounts: readonly number[],
  sec: number,
  envelope: (sec: number) => number = () => 1,
): Pcm {
  return {
    sampleRate: RATE,
    samples: Float32Array.from(
      { length: sec * RATE },
      (_, i) =>
        amounts.reduce(
          (sum, amount, n) => sum + amount * Math.sin((2 * Math.PI * hz * (n + 1) * i) / RATE),
          0,
        ) *
        0.2 *
        envelope(i / RATE),
    ),
  };
}
const middle = <T extends ArrayLike<number>>(values: T) => values[Math.floor(values.length / 2)]!;

describe("pitch where two octaves explain the sound", () => {
  // D5 with odd partials 13 dB below the even ones: nearly periodic in half its period.
  const weakOdd = tone(587.33, [0.2, 1, 0.2, 0.7, 0.1, 0.4], 1);

  it("takes the octave that is written", () => {
    const features = extractFeatures(weakOdd, { lowest: 61, highest: 87, expected: [74] });
    expect(middle(features.midi)).toBeCloseTo(74, 0);
  });

  it("does not pull a note that is plainly an octave high", () => {
    const features = extractFeatures(tone(1174.66, [1, 0.5, 0.3], 1), {
      lowest: 61,
      highest: 87,
      expected: [74],
    });
    expect(middle(features.midi)).toBeCloseTo(86, 0);
    expect(middle(features.rivals) & RIVAL.double).toBe(0);
  });
});

describe("spectra", () => {
  // What the definitions say, sum by sum.
  const frame = Float64Array.from({ length: 64 }, (_, i) => Math.sin(i * i) + 0.3 * Math.cos(2.1 * i));

  it("have the power that the sum of the discrete Fourier transform gives, up to half the rate", () => {
    const power = new Float64Array(33);
    powerSpectrum(64)(frame, power);
    power.forEach((found, bin) => {
      const turn = (2 * Math.PI * bin) / 64;
      const re = frame.reduce((sum, each, i) => sum + each * Math.cos(turn * i), 0);
      const im = frame.reduce((sum, each, i) => sum + each * Math.sin(turn * i), 0);
      expect(found).toBeCloseTo(re * re + im * im, 9);
    });
  });

  it("lead back to the sum of products with itself later, even and odd lags, to the last", () => {
    const correlation = new Float64Array(64);
    makeAutocorrelation(64)(frame, correlation);
    correlation.forEach((found, lag) => {
      const products = frame.subarray(lag).reduce((sum, each, i) => sum + each * frame[i]!, 0);
      expect(found).toBeCloseTo(products, 9);
    });
  });
});

describe("level by whole periods", () => {
  it("stands still in a low note whose 5 ms levels flicker", () => {
    // E flat 1 with strong high partials beats within its period of 26 ms.
    const low = tone(38.89, [1, 1, 1, 1, 1, 1, 1, 1], 2);
    const { levelDb, outlineDb } = extractFeatures(low, { lowest: 14, highest: 40, expected: [27] });
    const range = (curve: Float32Array) =>
      Math.max(...curve.subarray(40, 350)) - Math.min(...curve.subarray(40, 350));
    expect(range(levelDb)).toBeGreaterThan(6);
    expect(range(outlineDb)).toBeLessThan(3);
  });
});

describe("strokes on bars", () => {
  /** A second bar is struck at 0.8 s while a first one rings, struck at 0.2 s and as loud as is given from there on. */
  const struckOver = (amount: number, ringing: (sec: number) => number) => {
    const first = tone(1568, [amount], 2, (sec) => (sec < 0.2 ? 0 : ringing(sec)));
    const second = tone(1046.5, [0.5], 1.2, (sec) => Math.exp(-2 * sec));
    second.samples.forEach((each, i) => {
      first.samples[i + 0.8 * RATE]! += each;
    });
    const reach = { lowest: 70, highest: 110, struckBars: true, expected: [84, 91] };
    return barSegments(extractFeatures(first, reach), reach);
  };

  it("are heard through an earlier, louder bar that rings on", () => {
    const strokes = struckOver(1, (sec) => Math.exp(-1.2 * sec));
    expect(strokes.map((stroke) => Math.round(stroke.midi!))).toEqual([91, 84]);
    expect(Math.abs(strokes[1]!.onsetSec - 0.8)).toBeLessThan(0.02);
  });

  it("begin where they are struck, though what rings in the room swells before", () => {
    const swell = (sec: number) => Math.exp(-0.5 * sec) * (1 - 0.35 * Math.exp(-(((sec - 0.7) / 0.03) ** 2)));
    const strokes = struckOver(0.7, swell);
    expect(strokes.map((stroke) => Math.round(stroke.midi!))).toEqual([91, 84]);
    expect(Math.abs(strokes[1]!.onsetSec - 0.8)).toBeLessThan(0.025);
  });
});

describe("confidence", () => {
  it("grows with how clearly a note was heard, and stays a probability", () => {
    for (const verdict of ["ok", "wrong-pitch", "missed"] as const)
      for (const strokes of [false, true]) {
        const said = [0, 0.2, 0.4, 0.6, 0.8, 0.9, 1].map((heard) => calibrated(verdict, heard, strokes));
        expect(said).toEqual([...said].sort((a, b) => a - b));
        expect(Math.min(...said)).toBeGreaterThanOrEqual(0);
        expect(Math.max(...said)).toBeLessThanOrEqual(1);
      }
  });

  it("is that of strokes in a rhythm: short as they are, a plain one is nearly sure", () => {
    expect(calibrated("ok", 0.64, true)).toBeGreaterThan(0.98);
    expect(calibrated("ok", 0.64)).toBeLessThan(0.9);
    const claps = assessTaps(line("Bb4:1 C5:1 D5:1 C5:1 | Bb4:2 C5:2"), [1, 1.75, 2.5, 3.25, 4, 5.5]);
    expect(Math.min(...claps.notes.map(({ confidence }) => confidence))).toBeGreaterThan(0.98);
  });
});

describe("what is summed up of a take", () => {
  const { part } = partFor(
    line("p= Bb4:1 C5:1 D5:1 C5:1 | f= Bb4:1 C5:1 D5:1 C5:1 | p= D5:2 Bb4:2"),
    "clarinet",
  );
  const play = (loudness: (bar: number) => number, cents = 0) => {
    const { notes } = timeline(part, { bpm: 80 });
    const played = notes.map(
      (note): PlayedNote => ({
        atSec: 0.6 + note.onsetSec,
        lengthSec: note.durationSec * 0.88,
        midi: note.midi! + cents / 100,
        loudness: loudness(note.measureIndex),
        legato: false,
      }),
    );
    return synthesise(played, "clarinet", 10.5, { noise: 0.002, echo: 0.1 }, 3);
  };

  it("tells whether written dynamics can be heard", () => {
    const heard = assess(
      part,
      play((bar) => (bar === 1 ? 0.9 : 0.3)),
      { bpm: 80, instrumentId: "clarinet" },
    ).dynamics!;
    expect(heard.map(({ from, to, audible }) => [from, to, audible])).toEqual([
      ["p", "f", true],
      ["f", "p", true],
    ]);
    const flat = assess(
      part,
      play(() => 0.6),
      { bpm: 80, instrumentId: "clarinet" },
    ).dynamics!;
    expect(flat.map((change) => change.audible)).toEqual([false, false]);
  });

  it("tells the tuning of every note name, against the A that was chosen", () => {
    const at440 = assess(
      part,
      play(() => 0.6, 20),
      { bpm: 80, instrumentId: "clarinet" },
    );
    expect(at440.tuning!.map((each) => each.name)).toEqual(["C4", "D4", "E4"]);
    for (const each of at440.tuning!) expect(Math.abs(each.cents - 20)).toBeLessThan(4);
    // 442 Hz lies 7.85 cents above 440.
    const at442 = assess(
      part,
      play(() => 0.6, 20),
      { bpm: 80, instrumentId: "clarinet", a4Hz: 442 },
    );
    expect(at442.take.tuningCents!).toBeCloseTo(at440.take.tuningCents! - 7.85, 0);
  });
});

describe("a squeak", () => {
  it("is a flag on its note, not a note of its own, and does not cut the note short", () => {
    const { part } = partFor(line("Bb4:2 C5:2 | D5:4"), "clarinet");
    const { notes } = timeline(part, { bpm: 80 });
    const played = notes.flatMap((note): PlayedNote[] => {
      const plain = {
        atSec: 0.6 + note.onsetSec,
        lengthSec: note.durationSec * 0.9,
        midi: note.midi!,
        loudness: 0.7,
        legato: false,
      };
      if (note.index !== 1) return [plain];
      const half = plain.lengthSec / 2;
      return [
        { ...plain, lengthSec: half },
        { ...plain, atSec: plain.atSec + half, lengthSec: 0.1, midi: note.midi! + 19, legato: true },
        { ...plain, atSec: plain.atSec + half + 0.1, lengthSec: half - 0.1, legato: true },
      ];
    });
    const pcm = synthesise(played, "clarinet", 8, { noise: 0.002, echo: 0.1 }, 3);
    const { notes: heard, extras } = assess(part, pcm, { bpm: 80, instrumentId: "clarinet" });
    expect(heard.map((note) => [note.verdict, note.length, note.flags])).toEqual([
      ["ok", "ok", []],
      ["ok", "ok", ["squeak"]],
      ["ok", "ok", []],
    ]);
    expect(extras).toEqual([]);
  });

  it("is not a moment of another colour in which the note goes on", () => {
    const { part } = partFor(line("Bb4:2 C5:2 | D5:4"), "clarinet");
    const { notes } = timeline(part, { bpm: 80 });
    const plain = notes.map(
      (note): PlayedNote => ({
        atSec: 0.6 + note.onsetSec,
        lengthSec: note.durationSec * 0.9,
        midi: note.midi!,
        loudness: 0.7,
        legato: false,
      }),
    );
    const flash = {
      ...plain[1]!,
      atSec: plain[1]!.atSec + 0.6,
      lengthSec: 0.12,
      midi: plain[1]!.midi! + 26,
      loudness: 0.9,
    };
    const pcm = synthesise([...plain, flash], "clarinet", 8, { noise: 0.002, echo: 0.1 }, 3);
    const heard = assess(part, pcm, { bpm: 80, instrumentId: "clarinet" }).notes;
    expect(heard.map(({ flags }) => flags)).toEqual([[], [], []]);
  });
});

describe("lengths", () => {
  const { part } = partFor(line("Bb4:2 C5:1 D5:1 | Eb5:1 r:1 D5:2 | C5:2 Bb4:2"), "trumpet");
  const { notes } = timeline(part, { bpm: 80 });
  /** @param held  share of its written length that a note is held for; 0 for one that is not played */
  const lengths = (held: Record<number, number>) => {
    const played = notes
      .filter(({ index }) => held[index] !== 0)
      .map(
        (note): PlayedNote => ({
          atSec: 0.6 + note.onsetSec,
          lengthSec: note.durationSec * (held[note.index] ?? 0.92),
          midi: note.midi!,
          loudness: 0.7,
          legato: false,
        }),
      );
    const pcm = synthesise(played, "trumpet", 10, { noise: 0.002, echo: 0.1 }, 3);
    return assess(part, pcm, { bpm: 80, instrumentId: "trumpet" }).notes.map(({ length }) => length);
  };

  it("are too long into a rest, and not through a note that is missed", () => {
    expect(lengths({ 3: 1.9 })[3]).toBe("long");
    expect(lengths({ 1: 1.9, 2: 0 })[1]).toBe("ok");
  });

  it("are too short with silence after the note", () => {
    expect(lengths({ 0: 0.4 })[0]).toBe("short");
  });
});

describe("before there are notes", () => {
  const { part } = partFor(line("Bb4:4"), "flute");
  const hear = (pcm: Pcm) => assess(part, pcm, { mode: "longtone", instrumentId: "flute" });
  const silence = new Float32Array(RATE / 2);
  const framed = (samples: Float32Array): Pcm => ({
    sampleRate: RATE,
    samples: Float32Array.from([...silence, ...samples, ...silence]),
  });

  it("a head joint is measured though its pitch is no written one", () => {
    const { take, longTone } = hear(framed(tone(880, [1, 0.2], 4).samples));
    expect(take.status).toBe("assessed");
    expect(Math.abs(longTone!.seconds - 4)).toBeLessThan(0.15);
    expect(longTone!.pitchSdCents).toBeLessThan(3);
    expect(longTone!.brightnessSpread).toBeLessThan(0.05);
  });

  it("a siren tells its span", () => {
    let phase = 0;
    // An octave up and down within three seconds.
    const siren = Float32Array.from({ length: 3 * RATE }, (_, i) => {
      phase += (2 * Math.PI * 300 * 2 ** (1 - Math.abs(i / RATE / 1.5 - 1))) / RATE;
      return 0.2 * Math.sin(phase);
    });
    const { take, longTone } = hear(framed(siren));
    expect(take.status).toBe("assessed");
    expect(longTone!.spanSemitones).toBeGreaterThan(10);
    expect(longTone!.spanSemitones).toBeLessThan(12.5);
  });

  it("a buzzed tune is followed by its contour", () => {
    const { part: steps } = partFor(line("Bb4:2 C5:2 | Bb4:2 D5:2"), "flute");
    const buzz = [400, 470, 390, 500].flatMap((hz) => [
      ...tone(hz, [1, 0.4], 1).samples,
      ...new Float32Array(RATE / 5),
    ]);
    const heard = assess(steps, framed(Float32Array.from(buzz)), { mode: "longtone", instrumentId: "flute" });
    expect(heard.longTone!.contour).toEqual({ right: 3, asked: 3 });
  });
});

describe("a part's name", () => {
  it.each([
    ["Trumpet 2 in B♭", -2, "trumpet"],
    ["Bass Clarinet", -14, "clarinet-bass"],
    ["Clarinet in Bb 1", -2, "clarinet"],
    ["Alto Saxophone", -9, "sax-alto"],
    ["Baritone Sax", -21, "sax-bari"],
    ["Baritone", 0, "euphonium"],
    ["Euphonium T.C.", -14, "euphonium-treble"],
    ["Glockenspiel", 24, "bells"],
    ["Horn in F", -7, "horn"],
    ["Snare Drum", 0, "snare"],
  ])("%s is known", (name, semitones, id) => {
    expect(instrumentNamed(name, semitones)?.id).toBe(id);
  });

  it("that tells nothing is no instrument", () => {
    expect(instrumentNamed("Part 1")).toBeUndefined();
  });
});
