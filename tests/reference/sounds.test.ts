import { PitchDetector } from "pitchy";
import { beforeAll, describe, expect, it } from "vitest";
import { INSTRUMENTS, midiToHz, parsePitch, pitchToMidi } from "../../src/core/music";
import {
  type Bank,
  type PlayAlong,
  renderPlan,
  type Sound,
  soundsFor,
  voicingOf,
} from "../../src/core/playalong";
import { shippedBank } from "../support/bank";

let bank: Bank;
beforeAll(async () => {
  bank = await shippedBank();
});

/** One note of three seconds. */
const held = (midi: number): PlayAlong => ({
  events: [{ atSec: 0, kind: "note", accent: false, midi, durationSec: 3 }],
  startSec: 0,
  totalSec: 3,
});
const rate = 44100;
const played = (sound: string, midi: number) =>
  renderPlan(held(midi), {
    mix: { count: false, click: false, reference: true, sound },
    bank,
    sampleRate: rate,
  });
const rms = (samples: Float32Array) =>
  Math.sqrt(samples.reduce((sum, each) => sum + each * each, 0) / samples.length);

describe("the sounds that ship", () => {
  it("cover every instrument", () => {
    for (const { id } of INSTRUMENTS)
      for (const [sound] of voicingOf(id)) expect(bank.has(sound), id).toBe(true);
    expect(soundsFor(["euphonium"])).toEqual(["trombone", "horn", "wood-high", "wood-low"]);
  });

  it("keep their loops inside their samples", () => {
    for (const [id, sound] of bank as Map<string, Sound>)
      for (const { start, end, loop, from, to } of sound.samples) {
        expect(end, id).toBeLessThanOrEqual(sound.pcm.length);
        expect(from).toBeLessThanOrEqual(to);
        if (!loop) continue;
        expect(loop[0]).toBeGreaterThanOrEqual(start);
        expect(loop[1]).toBeLessThanOrEqual(end);
        expect(loop[1]).toBeGreaterThan(loop[0]);
      }
  });

  // What the ear of another library hears (pitchy, McLeod's method): every note of every instrument's two years.
  const pitched = INSTRUMENTS.filter(
    (instrument) => instrument.ranges && instrument.family !== "mallets" && instrument.id !== "timpani",
  );
  it.each(
    pitched.map((instrument) => [instrument.id, instrument] as const),
  )("the %s is in tune over its range", (id, instrument) => {
    const [low, high] = instrument.ranges!.secondYear.map(
      (name) => pitchToMidi(parsePitch(name)) + instrument.soundsBy.semitones,
    );
    const size = 8192;
    const detector = PitchDetector.forFloat32Array(size);
    const off: number[] = [];
    for (let midi = low!; midi <= high!; midi += 3) {
      const samples = played(id, midi);
      const [hz] = detector.findPitch(
        samples.subarray(Math.round(0.6 * rate), Math.round(0.6 * rate) + size),
        rate,
      );
      const cents = 1200 * Math.log2(hz / midiToHz(midi));
      // An ear for single tones may take the octave of a bright low note; the pitch class decides.
      off.push(((cents + 6600) % 1200) - 600);
    }
    for (const cents of off) expect(Math.abs(cents)).toBeLessThan(30);
    expect(Math.abs(off.reduce((sum, each) => sum + each, 0) / off.length)).toBeLessThan(12);
  });

  it("holds a long tone as loud as it began and stops when it is let go", () => {
    for (const id of ["flute", "clarinet", "trumpet", "tuba", "sax-alto", "horn"]) {
      const samples = played(id, id === "tuba" ? 41 : 62);
      const [early, late] = [
        samples.subarray(0.8 * rate, 1.3 * rate),
        samples.subarray(2.2 * rate, 2.7 * rate),
      ];
      expect(Math.abs(20 * Math.log10(rms(late) / rms(early))), id).toBeLessThan(4);
      expect(rms(samples.subarray(3.2 * rate, 3.4 * rate))).toBeLessThan(0.005);
    }
  });

  it("lies at one level over the band", () => {
    const levels = [
      "flute",
      "oboe",
      "clarinet",
      "sax-alto",
      "trumpet",
      "horn",
      "trombone",
      "euphonium",
      "tuba",
    ].map((id) => 20 * Math.log10(rms(played(id, id === "tuba" ? 41 : 60).subarray(0.5 * rate, 1.5 * rate))));
    expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(6);
  });
});
