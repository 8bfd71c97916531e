import { describe, expect, it } from "vitest";
import {
  AudioReadError,
  halveRate,
  joinBlocks,
  lostSound,
  mixToMono,
  type Pcm,
  peaks,
  readWav,
  resample,
  writeWav,
} from "../../src/core/audio";

function tone(hz: number, sampleRate: number, seconds = 0.5): Pcm {
  return {
    sampleRate,
    samples: Float32Array.from(
      { length: seconds * sampleRate },
      (_, i) => 0.5 * Math.sin((2 * Math.PI * hz * i) / sampleRate),
    ),
  };
}

/** Level of the middle of a sound, dB against full scale of a sine. */
function levelDb({ samples }: Pcm): number {
  const middle = samples.subarray(Math.floor(samples.length / 4), Math.floor((3 * samples.length) / 4));
  return 10 * Math.log10((2 * middle.reduce((sum, value) => sum + value * value, 0)) / middle.length);
}

/** A WAV file by hand: any format code, width and number of channels. */
function wav(code: number, bits: number, channels: number, body: number[], rate = 8000): Uint8Array {
  const bytes = new Uint8Array(44 + body.length);
  const view = new DataView(bytes.buffer);
  const tag = (at: number, text: string) => bytes.set(new TextEncoder().encode(text), at);
  tag(0, "RIFF");
  view.setUint32(4, bytes.length - 8, true);
  tag(8, "WAVEfmt ");
  view.setUint32(16, 16, true);
  view.setUint16(20, code, true);
  view.setUint16(22, channels, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, (rate * channels * bits) / 8, true);
  view.setUint16(32, (channels * bits) / 8, true);
  view.setUint16(34, bits, true);
  tag(36, "data");
  view.setUint32(40, body.length, true);
  bytes.set(body, 44);
  return bytes;
}

describe("WAV", () => {
  it("comes back within half a step of 16 bits, clipped at full scale", () => {
    const samples = Float32Array.from([0, 0.25, -0.25, 0.999, -1, 1.7, -3]);
    const back = readWav(writeWav({ samples, sampleRate: 48000 }));
    expect(back.sampleRate).toBe(48000);
    [0, 0.25, -0.25, 0.999, -1, 1, -1].forEach((value, i) => {
      expect(Math.abs(back.samples[i]! - value)).toBeLessThanOrEqual(1 / 32768);
    });
  });

  // Sample formats of RIFF/WAVE (IBM and Microsoft, 1991): 8 bits unsigned, wider ones signed little-endian, code 3 float.
  it.each([
    ["8-bit", 1, 8, [0, 128, 255], [-1, 0, 127 / 128]],
    ["16-bit", 1, 16, [0, 128, 0, 0, 255, 127], [-1, 0, 32767 / 32768]],
    ["24-bit", 1, 24, [0, 0, 128, 0, 0, 0, 255, 255, 127], [-1, 0, 8388607 / 8388608]],
    ["32-bit", 1, 32, [0, 0, 0, 128, 0, 0, 0, 0], [-1, 0]],
    ["float", 3, 32, [0, 0, 128, 191, 0, 0, 0, 63], [-1, 0.5]],
  ] as const)("reads %s samples", (_, code, bits, body, expected) => {
    const { samples } = readWav(wav(code, bits, 1, [...body]));
    expect([...samples]).toEqual(expected.map((value) => expect.closeTo(value, 6)));
  });

  it("mixes stereo to the mean of both sides", () => {
    expect([...readWav(wav(1, 8, 2, [0, 128, 255, 255])).samples]).toEqual([-0.5, 127 / 128]);
    expect([...mixToMono([Float32Array.of(1, 0), Float32Array.of(0, -1)])]).toEqual([0.5, -0.5]);
  });

  it.each([
    [
      "a text file",
      new TextEncoder().encode("dear diary, today I practised my long tones for a while"),
      /not a WAV file/,
    ],
    ["a file cut off in its head", writeWav(tone(440, 8000)).slice(0, 30), /not a WAV file/],
    ["a compressed kind", wav(85, 16, 1, [1, 2]), /cannot be read; save it as 16-bit PCM/],
    ["no data", wav(1, 16, 1, []).slice(0, 36), /not a WAV file/],
  ])("refuses %s in one sentence", (_, bytes, sentence) => {
    expect(() => readWav(bytes)).toThrow(AudioReadError);
    expect(() => readWav(bytes)).toThrow(sentence);
  });

  it("reads what is there when the file says more than it holds", () => {
    const whole = writeWav(tone(440, 8000));
    expect(readWav(whole.slice(0, 44 + 2000)).samples).toHaveLength(1000);
  });
});

describe("changing the rate", () => {
  it.each([8000, 16000, 44100, 48000, 96000])("keeps a 440 Hz tone and its length from %i Hz", (rate) => {
    const out = resample(tone(440, rate), 22050);
    expect(Math.abs(out.samples.length - 11025)).toBeLessThan(3);
    expect(Math.abs(levelDb(out) - levelDb(tone(440, rate)))).toBeLessThan(0.1);
  });

  it("keeps a tone far above the new limit from folding back", () => {
    expect(levelDb(resample(tone(15000, 44100), 22050))).toBeLessThan(-50);
    expect(levelDb(halveRate(tone(17500, 44100)))).toBeLessThan(-40);
  });

  it("halves the rate without touching what attacks and pitches need", () => {
    for (const hz of [60, 440, 3000, 7000]) {
      const out = halveRate(tone(hz, 44100));
      expect(out.sampleRate).toBe(22050);
      expect(Math.abs(levelDb(out) - levelDb(tone(hz, 44100)))).toBeLessThan(hz > 6000 ? 1 : 0.1);
    }
  });
});

describe("the outline of a take", () => {
  it("shows the loudest sample of each stretch, quiet or clipped", () => {
    const samples = new Float32Array(100);
    samples[5] = 0.5;
    samples[55] = -0.75;
    samples[99] = 1.5;
    expect(peaks(samples, 4)).toEqual([0.5, 0, 0.75, 1]);
  });
});

describe("sound that a busy device lost", () => {
  /** Blocks of a tenth of a second; stalls by place, and chance delays that are made up for at once. */
  const heard = (stalls: Record<number, number>, chance: (i: number) => number = () => 0) => {
    let behind = 0;
    return Array.from({ length: 100 }, (_, i) => {
      behind += stalls[i] ?? 0;
      return { clockSec: i / 10, cameSec: 100 + i / 10 + behind + chance(i) };
    });
  };

  it("is found where the audio clock stood still", () => {
    const lost = lostSound(heard({ 20: 0.3, 60: 0.1 }, (i) => 0.02 * Math.abs(Math.sin(i * i))));
    expect(lost.map(({ block }) => block)).toEqual([20, 60]);
    expect(lost[0]!.seconds).toBeCloseTo(0.3, 1);
  });

  it("is nothing when blocks only come late, or clocks part slowly", () => {
    expect(lostSound(heard({}, (i) => (i % 13 === 5 ? 0.8 : 0)))).toEqual([]);
    expect(lostSound(heard({}, (i) => i * 0.0005))).toEqual([]);
    expect(lostSound([])).toEqual([]);
  });

  it("is told where it stands in the recording, also behind silence that was put in", () => {
    // A tenth of a second each at 1,000 samples a second; a third of a second is lost before the third block, and the clock
    // passes over the whole seventh, which is silent.
    const blocks = heard({ 2: 0.3 }, () => 0)
      .slice(0, 10)
      .map((block, i) => ({ ...block, samples: new Float32Array(100).fill(i === 6 ? 0 : 0.5) }));
    const passed = { fromSec: blocks[6]!.clockSec, toSec: blocks[7]!.clockSec };
    const rest = new Float32Array(5).fill(0.5);
    const take = joinBlocks(blocks, rest, [passed], 1000, true);
    expect(take.added).toBe(true);
    expect(take.samples).toHaveLength(1305);
    expect(take.gaps).toHaveLength(2);
    for (const { fromSec, toSec } of take.gaps) {
      const inside = take.samples.subarray(Math.ceil(1000 * fromSec) + 1, Math.floor(1000 * toSec) - 1);
      expect(inside.length).toBeGreaterThan(90);
      expect(inside.every((sample) => sample === 0)).toBe(true);
    }
    // By the audio clock nothing is put in: the seam is told, and what comes after it keeps its place.
    const turn = joinBlocks(blocks, rest, [passed], 1000, false);
    expect(turn.samples).toHaveLength(1005);
    expect(turn.gaps.map(({ fromSec }) => Math.round(1000 * fromSec))).toEqual([200, 600]);
  });
});
