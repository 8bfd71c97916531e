import { PitchDetector } from "pitchy";
import { beforeAll, describe, expect, it } from "vitest";
import { type Pcm, resample } from "../../src/core/audio";
import { extractFeatures, makePitchFinder, pitchedSegments } from "../../src/core/listen";
import { median } from "../../src/core/listen/statistics";
import { hzToMidi, parsePitch, pitchToMidi } from "../../src/core/music";
import { audibleAttack, decodeNote } from "../support/sounds";

// Recorded instrument samples: the registry packages tonejs-instrument-*-mp3 (samples CC-BY 3.0), each file named by its
// sounding pitch. The general-purpose pitch library: pitchy (McLeod pitch method) from the registry.
const SAMPLES: [instrument: string, notes: string[]][] = [
  ["flute", ["C5", "E5", "A4"]],
  ["clarinet", ["D3", "F4", "A#4"]],
  ["saxophone", ["D3", "F3", "A4"]],
  ["trumpet", ["D5", "F4", "A3"]],
  ["trombone", ["A#2", "F3", "D3"]],
  ["tuba", ["A#1", "F2", "D3"]],
];

const sample = (instrument: string, note: string) => decodeNote(instrument, `${note.replace("#", "s")}.mp3`);

describe.each(SAMPLES)("recorded %s", (instrument, notes) => {
  it.each(notes)("%s is heard at its named pitch, as one note, with its attack in place", async (note) => {
    const pcm = await sample(instrument, note);
    const padded = new Float32Array(
      Math.round(0.5 * pcm.sampleRate) + Math.min(pcm.samples.length, Math.round(1.5 * pcm.sampleRate)),
    );
    padded.set(
      pcm.samples.subarray(0, padded.length - Math.round(0.5 * pcm.sampleRate)),
      Math.round(0.5 * pcm.sampleRate),
    );
    const named = pitchToMidi(parsePitch(note));
    const features = extractFeatures(
      { samples: padded, sampleRate: pcm.sampleRate },
      { lowest: named - 20, highest: named + 20 },
    );
    const segments = pitchedSegments(features).filter(
      (segment) => segment.offsetSec - segment.onsetSec > 0.15,
    );
    const longest = segments.reduce((best, each) =>
      each.offsetSec - each.onsetSec > best.offsetSec - best.onsetSec ? each : best,
    );
    expect(Math.abs(longest.midi! - named)).toBeLessThan(0.5);
    expect(segments.every((segment) => Math.abs(segment.midi! - named) < 0.6)).toBe(true);
    expect(segments[0]!.onsetSec).toBeCloseTo(0.5 + audibleAttack(pcm.samples, pcm.sampleRate), 1);
  });
});

describe("against a general-purpose pitch library", () => {
  let pcm: Pcm;
  beforeAll(async () => {
    pcm = resample(await sample("clarinet", "F4"), 22050);
  });

  it("agrees within 5 cents on the steady part of a recorded clarinet", () => {
    const size = 2048;
    const detector = PitchDetector.forFloat32Array(size);
    const find = makePitchFinder(size, 22050, 80);
    const differences: number[] = [];
    for (let from = 6000; from + size < Math.min(pcm.samples.length, 22050); from += 441) {
      const [hz, clarity] = detector.findPitch(pcm.samples.slice(from, from + size), 22050);
      const own = find(pcm.samples, from);
      if (clarity > 0.95) differences.push(100 * Math.abs(hzToMidi(own.hz) - hzToMidi(hz)));
    }
    expect(differences.length).toBeGreaterThan(10);
    expect(median(differences)).toBeLessThan(5);
  });

  it("finds sine tones of equal temperament within 2 cents from E♭1 to C8", () => {
    // Frequencies from the definition of equal temperament with A4 = 440 Hz (ISO 16:1975).
    for (let midi = 27; midi <= 108; midi++) {
      const hz = 440 * 2 ** ((midi - 69) / 12);
      const tone = Float32Array.from(
        { length: 4096 },
        (_, i) => 0.5 * Math.sin((2 * Math.PI * hz * i) / 22050),
      );
      const heard = makePitchFinder(2048, 22050, 30)(tone, 0);
      expect(Math.abs(hzToMidi(heard.hz) - midi)).toBeLessThan(0.02);
    }
  });
});
