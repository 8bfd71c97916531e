import { describe, expect, it } from "vitest";
import { makeHighPass, type Pcm } from "../../src/core/audio";
import { assess } from "../../src/core/listen";
import { findBleed } from "../../src/core/listen/bleed";
import { octaveEvidence, oddPartialsLack, oddPartialsStand } from "../../src/core/listen/octave-evidence";
import { partialRise, soundsUntil } from "../../src/core/listen/partials";
import { midiToHz } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import { timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";

const RATE = 22_050;
interface Tone {
  midi: number;
  fromSec: number;
  toSec: number;
  /** Amplitude of each partial. */
  amounts?: number[];
  /** It dies away by half in so many seconds after its end. */
  ringsSec?: number;
}
const USUAL = [0.3, 0.2, 0.12, 0.08, 0.05];

/** Tones and their ringing, in noise. */
function tones(seconds: number, some: readonly Tone[], noise = 0.002): Pcm {
  const random = seededRandom(5);
  const samples = Float32Array.from({ length: seconds * RATE }, () => noise * (2 * random() - 1));
  for (const { midi, fromSec, toSec, amounts = USUAL, ringsSec = 0.01 } of some)
    for (let i = Math.round(fromSec * RATE); i < samples.length; i++) {
      const sec = i / RATE;
      const gain = Math.min(1, (sec - fromSec) / 0.02) * 0.5 ** (Math.max(0, sec - toSec) / ringsSec);
      if (sec > toSec && gain < 1e-5) break;
      amounts.forEach((amount, k) => {
        samples[i]! += gain * amount * Math.sin(2 * Math.PI * midiToHz(midi) * (k + 1) * sec);
      });
    }
  return { samples, sampleRate: RATE };
}

describe("the rumble below a line", () => {
  const level = (hz: number) => {
    const sine = Float32Array.from({ length: RATE }, (_, i) => Math.sin((2 * Math.PI * hz * i) / RATE));
    const out = makeHighPass(RATE, 200)(sine, true).subarray(RATE / 2);
    return 10 * Math.log10((2 * out.reduce((sum, each) => sum + each * each, 0)) / out.length);
  };

  it.each([
    ["keeps what is two octaves above", 800, 0, 0.1],
    ["has lost 3 dB at its edge", 200, -3, 0.2],
    ["loses 24 dB an octave below it", 50, -48, 1],
  ])("a high pass %s", (_what, hz, db, within) => {
    expect(Math.abs(level(hz) - db)).toBeLessThan(within);
  });

  it("is the same in blocks of any size", () => {
    const { samples } = tones(1, [{ midi: 60, fromSec: 0.1, toSec: 0.9 }]);
    const whole = makeHighPass(RATE, 150)(samples, true);
    const stage = makeHighPass(RATE, 150);
    const parts = [0, 77, 5000, samples.length].flatMap((from, i, all) =>
      i + 1 < all.length ? [...stage(samples.subarray(from, all[i + 1]), i === 2)] : [],
    );
    expect(parts).toEqual([...whole]);
  });

  it("louder than the playing hides none of its notes", () => {
    const { part } = partFor(
      line("Bb4:1 C5:1 D5:1 C5:1 | D5:2 Eb5:2 | F5:1 D5:1 C5:2", { bpm: 80 }),
      "flute",
    );
    const notes = timeline(part, { bpm: 80 }).notes;
    const { samples } = tones(
      1 + notes.at(-1)!.onsetSec + 2,
      notes.map(({ midi, onsetSec, durationSec }) => ({
        midi: midi!,
        fromSec: 0.5 + onsetSec,
        toSec: 0.45 + onsetSec + durationSec,
      })),
    );
    const random = seededRandom(9);
    let [low, lower] = [0, 0];
    for (let i = 0; i < samples.length; i++) {
      low += 0.025 * (2 * random() - 1 - low);
      lower += 0.025 * (low - lower);
      samples[i]! += 9 * lower;
    }
    const { take, notes: heard } = assess(
      part,
      { samples, sampleRate: RATE },
      { bpm: 80, instrumentId: "flute" },
    );
    expect(take.status).toBe("assessed");
    expect(heard.map(({ verdict }) => verdict)).toEqual(notes.map(() => "ok"));
  });
});

describe("the octave of a sound that was taken for the written note", () => {
  const away = (midi: number, amounts: number[], toSec = 0.9) =>
    octaveEvidence(tones(1, [{ midi, fromSec: 0.1, toSec, amounts }]), 62, 0.12, toSec);

  it.each([
    ["has its own odd partials", 62, USUAL, 0],
    ["has odd partials 13 dB below the even ones", 62, [0.1, 0.45, 0.1, 0.3, 0.05, 0.2], 0],
    ["is an octave up: it has none", 74, USUAL, 12],
    ["is an octave down: others lie between", 50, [0.3, 0.28, 0.2, 0.15, 0.12, 0.1, 0.08], -12],
  ])("%s", (_what, midi, amounts, expected) => {
    expect(away(midi, amounts).away).toBe(expected);
  });

  it("is left as it is where the note is too short to tell its partials apart", () => {
    expect(
      octaveEvidence(tones(1, [{ midi: 45, fromSec: 0.1, toSec: 0.15, amounts: USUAL }]), 33, 0.1, 0.15),
    ).toEqual({ away: 0, oddDb: null });
  });

  it("is an octave up beside notes of far stronger odd partials, where a room rings with them", () => {
    const ringing = { midi: 62, fromSec: 0.01, toSec: 0.09, ringsSec: 0.09 };
    const { away, oddDb } = octaveEvidence(
      tones(1, [ringing, { midi: 74, fromSec: 0.1, toSec: 0.9, amounts: USUAL.map((each) => 0.25 * each) }]),
      62,
      0.12,
      0.9,
    );
    expect(away).toBe(0);
    expect(oddPartialsLack(oddDb!, [3, 4, 5])).toBe(true);
    expect(oddPartialsLack(oddDb!, [3, 4])).toBe(false);
    expect(oddPartialsLack(oddDb!, [-8, -7, -9])).toBe(false);
  });

  it("is the written one where odd partials are heard after all", () => {
    expect(oddPartialsStand(away(62, [0.1, 0.45, 0.1, 0.3, 0.05, 0.2]).oddDb!)).toBe(true);
    expect(oddPartialsStand(-25)).toBe(false);
  });
});

describe("a note's own partials", () => {
  const ringing = [{ midi: 60, fromSec: 0.2, toSec: 1, ringsSec: 0.25 }];

  it("begin where it begins, though the note before rings on as loudly", () => {
    const sound = tones(2, [...ringing, { midi: 62, fromSec: 1.04, toSec: 1.6 }]);
    const rise = partialRise(sound, 62, [60], 1)!;
    expect(rise.sec).toBeGreaterThan(1);
    expect(rise.sec).toBeLessThan(1.08);
    expect(rise.riseDb).toBeGreaterThan(20);
  });

  it("do not begin where it was not played", () => {
    expect(partialRise(tones(2, ringing), 62, [60], 1)!.riseDb).toBeLessThan(17);
  });

  it("are none where the note before has them all, and before the sound there is nothing", () => {
    expect(partialRise(tones(2, ringing), 60, [60], 1)).toBeNull();
    expect(partialRise(tones(2, ringing), 62, [60], -3)).toBeNull();
  });

  it("say until when it sounds, in a room that rings and under something louder", () => {
    const rung = tones(3, [{ midi: 62, fromSec: 0.2, toSec: 1, ringsSec: 0.15 }]);
    expect(soundsUntil(rung, 62, [], [0.2, 0.8, 2.5])!).toBeLessThan(1.4);
    const covered = tones(3, [
      { midi: 62, fromSec: 0.2, toSec: 1.8 },
      { midi: 47.5, fromSec: 0.9, toSec: 1.3, amounts: USUAL.map((each) => 3 * each) },
    ]);
    expect(Math.abs(soundsUntil(covered, 62, [], [0.2, 0.8, 2.5])! - 1.8)).toBeLessThan(0.1);
  });
});

describe("a reference that sounds with the player", () => {
  const { notes } = timeline(line("Bb4:1 C5:1 D5:1 Eb5:1", { bpm: 60 }));
  const judged = (also: readonly Tone[]) => {
    const played = notes.map(({ midi, onsetSec }, i) => ({
      midi: midi! + (i === 1 || i === 2 ? 1.5 : 0),
      fromSec: onsetSec,
      toSec: onsetSec + 0.9,
    }));
    const sound = tones(5, [...played, ...also]);
    const verdicts = notes.map(({ index, onsetSec }, i) => ({
      index,
      verdict: i === 1 || i === 2 ? "wrong-pitch" : "ok",
      kind: null,
      onset: onsetSec,
      offset: onsetSec + 0.9,
      playedMidi: played[i]!.midi,
    }));
    const features = { sound } as Parameters<typeof findBleed>[3];
    return findBleed(
      notes,
      verdicts as unknown as Parameters<typeof findBleed>[1],
      notes.map(() => -20),
      features,
    );
  };

  it("is heard under wrong notes, and is not where it is silent", () => {
    const reference = notes.map(({ midi, onsetSec }) => ({
      midi: midi!,
      fromSec: onsetSec,
      toSec: onsetSec + 0.9,
      amounts: USUAL.map((each) => each / 3),
    }));
    expect(judged(reference).loud).toBe(true);
    expect(judged([]).loud).toBe(false);
  });
});

describe("what is asked of the engine", () => {
  const { part } = partFor(line("Bb4:1 C5:1 D5:2", { bpm: 80 }), "flute");
  const second = { samples: new Float32Array(RATE), sampleRate: RATE };

  it.each([
    ["a take of 4,000 samples a second", { ...second, sampleRate: 4000 }, {}, "4000 samples"],
    ["a rate that is no number", { ...second, sampleRate: Number.NaN }, {}, "samples a second"],
    ["a tempo of 3", second, { bpm: 3 }, "bpm lies between 20 and 400"],
    ["no tolerance at all", second, { pitchToleranceCents: 0 }, "pitchToleranceCents"],
    ["an A of 220 Hz", second, { a4Hz: 220 }, "a4Hz"],
  ])("is refused in one sentence: %s", (_what, pcm, options, words) => {
    expect(() => assess(part, pcm, options)).toThrow(words);
    expect(() => assess(part, pcm, options)).toThrow(RangeError);
  });
});
