import { describe, expect, it } from "vitest";
import { extractFeatures } from "../../src/core/listen";
import {
  type Mix,
  makeMixer,
  type PlayAlong,
  plainSounds,
  playAlong,
  renderPlan,
} from "../../src/core/playalong";
import { timeline } from "../../src/core/score";
import { attacks, run } from "../support/mixing";
import { line } from "../support/music";

const rate = 48000;
const bank = plainSounds();
const all: Mix = { count: true, click: true, reference: true };
const clicks: Mix = { count: false, click: true, reference: false };
const notes: Mix = { count: false, click: false, reference: true };
const plan = (bpm: number, bars = 4): PlayAlong =>
  playAlong(timeline(line(Array(bars).fill("Bb4:1 C5:1 D5:1 C5:1").join(" | ")), { bpm }));

describe("the mixer", () => {
  it("sounds the same in blocks of any size", () => {
    const whole = renderPlan(plan(90), { mix: all, bank, sampleRate: rate });
    const pieces = run(makeMixer(plan(90), { mix: all, bank, sampleRate: rate }), whole.length, 333);
    let most = 0;
    for (let i = 0; i < whole.length; i++) most = Math.max(most, Math.abs(whole[i]! - pieces[i]!));
    expect(most).toBeLessThan(1e-6);
  });

  it("does not drift: every click of ten minutes begins on its frame", () => {
    const long = plan(97, 245);
    const samples = renderPlan(long, { mix: clicks, bank, sampleRate: rate });
    const found = attacks(samples);
    // Beats from arithmetic alone: a bar of count-off, then one click a beat.
    const wanted = Array.from({ length: 980 }, (_, beat) => Math.round(((4 + beat) * 60 * rate) / 97));
    expect(found).toHaveLength(wanted.length);
    expect(wanted.at(-1)! / rate).toBeGreaterThan(600);
    // The first sample of an attack is silent, the second is heard.
    found.forEach((frame, i) => {
      expect(Math.abs(frame - wanted[i]!)).toBeLessThanOrEqual(2);
    });
  });

  it("changes tempo in the middle without touching what lies before, pitch or smoothness", () => {
    const mixer = makeMixer(plan(60), { mix: clicks, bank, sampleRate: rate });
    const before = run(mixer, 6 * rate);
    mixer.setSpeed(2);
    const after = run(mixer, 3 * rate);
    // Clicks at 4, 5 s; then from 6 s of the plan on twice as fast.
    expect(attacks(before).map((frame) => Math.round(frame / rate))).toEqual([4, 5]);
    expect(attacks(after).map((frame) => Math.round((10 * frame) / rate) / 10)).toEqual([
      0, 0.5, 1, 1.5, 2, 2.5,
    ]);

    const held = playAlong(timeline(line("Bb4:4 | Bb4:4"), { bpm: 60 }));
    const tone = makeMixer(held, { mix: notes, bank, sampleRate: rate });
    const samples = new Float32Array(8 * rate);
    samples.set(run(tone, 6 * rate));
    tone.setSpeed(0.5);
    samples.set(run(tone, 2 * rate), 6 * rate);
    const { midi, pitchHopSec } = extractFeatures({ samples, sampleRate: rate }, { lowest: 60, highest: 80 });
    expect(midi[Math.round(5.5 / pitchHopSec)]).toBeCloseTo(70, 1);
    expect(midi[Math.round(6.5 / pitchHopSec)]).toBeCloseTo(70, 1);
    // Nowhere near the change is there a jump larger than the tone itself makes.
    const step = (from: number, to: number) => {
      let most = 0;
      for (let i = Math.round(from * rate) + 1; i < to * rate; i++)
        most = Math.max(most, Math.abs(samples[i]! - samples[i - 1]!));
      return most;
    };
    expect(step(5.9, 6.1)).toBeLessThanOrEqual(step(5, 5.5) * 1.01);
  });

  it("loops without a gap for as long as wanted", () => {
    const once = plan(120, 1);
    const mixer = makeMixer(once, { mix: clicks, bank, sampleRate: rate, loopFromSec: once.startSec });
    const found = attacks(run(mixer, 32 * rate));
    // From second 2 on a click every half second, round after round.
    expect(found.map((frame) => Math.round((frame / rate) * 1000) / 1000)).toEqual(
      Array.from({ length: 60 }, (_, i) => 2 + i / 2),
    );
    expect(mixer.planSec()).toBeCloseTo(once.startSec + ((32 - once.startSec) % 2), 6);
    expect(mixer.done()).toBe(false);
    expect(() => makeMixer(once, { mix: all, bank, sampleRate: rate, loopFromSec: once.totalSec })).toThrow(
      RangeError,
    );
  });

  it("keeps a loop of odd length on its beat", () => {
    const once = plan(97, 1);
    const mixer = makeMixer(once, { mix: clicks, bank, sampleRate: rate, loopFromSec: once.startSec });
    const found = attacks(run(mixer, 120 * rate));
    found.forEach((frame, i) => {
      expect(Math.abs(frame - ((4 + i) * 60 * rate) / 97)).toBeLessThanOrEqual(3);
    });
    expect(found.length).toBeGreaterThan(180);
  });

  it("mutes and brings back the reference with a fade, the click going on", () => {
    const mixer = makeMixer(plan(60), { mix: { ...all, count: false }, bank, sampleRate: rate });
    run(mixer, 4.4 * rate);
    mixer.setMix(clicks);
    const muted = run(mixer, 1.2 * rate);
    mixer.setMix({ ...all, count: false });
    const again = run(mixer, 0.4 * rate);
    const loud = (samples: Float32Array, from: number, to: number) =>
      samples.subarray(from * rate, to * rate).reduce((most, each) => Math.max(most, Math.abs(each)), 0);
    expect(loud(muted, 0.3, 0.58)).toBeLessThan(1e-6);
    expect(loud(muted, 0.6, 0.7)).toBeGreaterThan(0.05);
    expect(loud(again, 0.1, 0.3)).toBeGreaterThan(0.05);
    let most = 0;
    for (let i = 1; i < 0.05 * rate; i++) most = Math.max(most, Math.abs(muted[i]! - muted[i - 1]!));
    expect(most).toBeLessThan(0.05);
  });

  it("goes back to a saved moment and plays the same again", () => {
    const mixer = makeMixer(plan(100), { mix: all, bank, sampleRate: rate });
    run(mixer, 3 * rate);
    const state = mixer.save();
    const first = run(mixer, rate);
    mixer.restore(state);
    expect(run(mixer, rate)).toEqual(first);
  });

  it("slurs without a hole between two notes and separates tongued ones", () => {
    const quietest = (music: string) => {
      const samples = renderPlan(playAlong(timeline(line(music), { bpm: 60 })), {
        mix: notes,
        bank,
        sampleRate: rate,
      });
      let least = 1;
      for (let at = 5.9; at < 6.02; at += 0.005) {
        const piece = samples.subarray(Math.round(at * rate), Math.round((at + 0.005) * rate));
        least = Math.min(least, Math.sqrt(piece.reduce((sum, each) => sum + each * each, 0) / piece.length));
      }
      return least;
    };
    expect(quietest("Bb4:2( C5:2)")).toBeGreaterThan(5 * quietest("Bb4:2 C5:2"));
  });

  it("plays the band beside the reference and words over it", () => {
    const own = playAlong(timeline(line("Bb4:4"), { bpm: 60 }));
    const other = playAlong(timeline(line("F5:4"), { bpm: 60 }));
    const pcm = new Float32Array(4800).fill(0.2);
    const samples = renderPlan(own, {
      mix: { ...clicks, click: false },
      bank,
      sampleRate: rate,
      band: [{ sound: "concert", plan: other, gain: 0.5 }],
      spoken: [{ atSec: 1, pcm, rate: 48000 }],
    });
    expect(Math.abs(samples[Math.round(1.05 * rate)]!)).toBeCloseTo(0.2, 2);
    expect(samples.subarray(5 * rate, 6 * rate).every((each) => each === 0)).toBe(true);
    const together = renderPlan(own, {
      mix: notes,
      bank,
      sampleRate: rate,
      band: [{ sound: "concert", plan: other, gain: 0.5 }],
    });
    const alone = renderPlan(own, { mix: notes, bank, sampleRate: rate });
    expect(together.subarray(5 * rate, 6 * rate)).not.toEqual(alone.subarray(5 * rate, 6 * rate));
  });

  it("refuses a tempo nobody can follow", () => {
    expect(() => makeMixer(plan(60), { mix: all, bank, sampleRate: rate, speed: 9 })).toThrow(
      "a quarter to four times",
    );
  });
});
