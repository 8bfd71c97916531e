import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { describe, expect, it } from "vitest";
import { recordTake, steadyHabits } from "../../demo/players";
import { AudioReadError, type Pcm, peaks, writeWav } from "../../src/core/audio";
import { decodeSound, sweepDecoding } from "../../src/server/decode";
import { encodeFlac } from "../../src/server/flac";
import { line, partFor } from "../support/music";

const { part } = partFor(line("Bb4:1 C5:1 D5:2"), "clarinet");
const { pcm } = recordTake(part, "clarinet", 90, steadyHabits, { noise: 0.003, echo: 0.2 }, 3);

/** Largest difference between two sounds of equal length. */
function farthest(a: Pcm, b: Pcm): number {
  expect(a.samples.length).toBe(b.samples.length);
  return a.samples.reduce((most, value, i) => Math.max(most, Math.abs(value - b.samples[i]!)), 0);
}

/** Silence as a file of any kind, made by ffmpeg: small, however long it lasts. */
function silence(seconds: number, rate: number, extension: string): Buffer {
  const folder = mkdtempSync(join(tmpdir(), "ulu-silence-"));
  const file = join(folder, `silence.${extension}`);
  execFileSync("ffmpeg", [
    ...["-v", "error", "-f", "lavfi", "-i", `anullsrc=r=${rate}:cl=mono`, "-t", String(seconds)],
    file,
  ]);
  const bytes = readFileSync(file);
  rmSync(folder, { recursive: true });
  return bytes;
}

describe("hours in a megabyte", () => {
  it("of FLAC are given up after fifteen minutes, with little memory", async () => {
    const twoHours = silence(7200, 44100, "flac");
    expect(twoHours.length).toBeLessThan(1_500_000);
    const before = process.memoryUsage().arrayBuffers;
    await expect(decodeSound(twoHours)).rejects.toThrow("longer than 15 minutes");
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(400e6);
  });

  it.each([
    "m4a",
    "mp3",
    "ogg",
    "webm",
    "wav",
  ])("of %s are given up too, and ten minutes are not", async (kind) => {
    const rate = kind === "webm" || kind === "ogg" ? 48000 : 8000;
    await expect(decodeSound(silence(1000, rate, kind))).rejects.toThrow("longer than 15 minutes");
    const { samples, sampleRate } = await decodeSound(silence(600, rate, kind));
    expect(samples.length / sampleRate).toBeCloseTo(600, 0);
  });

  it("leave no temporary files, and what a killed process left is swept", async () => {
    const left = mkdtempSync(join(tmpdir(), "ulu-decode-"));
    writeFileSync(join(left, "in"), "half a file");
    expect(existsSync(left)).toBe(true);
    await sweepDecoding();
    expect(existsSync(left)).toBe(true);
    await sweepDecoding(Date.now() + 2 * 3600_000);
    expect(existsSync(left)).toBe(false);
  });
});

describe("decoding", () => {
  it("gets 16-bit sound back from FLAC bit by bit", async () => {
    const asWav = await decodeSound(writeWav(pcm));
    const back = await decodeSound(await encodeFlac(asWav));
    expect(back.sampleRate).toBe(44100);
    // The decoder scales by 32767 where WAV is read by 32768: less than half a step is the same step.
    expect(farthest(back, asWav)).toBeLessThan(0.5 / 32768);
  });

  it("makes FLAC of several takes at once without mixing them", async () => {
    const takes = [200, 310, 470].map(
      (hz): Pcm => ({
        sampleRate: 44100,
        samples: Float32Array.from(
          { length: 9000 },
          (_, i) => 0.5 * Math.sin((2 * Math.PI * hz * i) / 44100),
        ),
      }),
    );
    const back = await Promise.all(takes.map(async (take) => decodeSound(await encodeFlac(take))));
    back.forEach((sound, i) => {
      expect(farthest(sound, takes[i]!)).toBeLessThan(1e-4);
    });
  });

  it("reads an MP3 whatever it is called", async () => {
    // A recorded trumpet from the registry package tonejs-instrument-trumpet-mp3 (samples CC-BY 3.0).
    const folder = dirname(
      createRequire(import.meta.url).resolve("tonejs-instrument-trumpet-mp3/package.json"),
    );
    const { samples, sampleRate } = await decodeSound(readFileSync(join(folder, "F4.mp3")));
    expect(samples.length / sampleRate).toBeGreaterThan(1);
    expect(peaks(samples, 1)[0]).toBeGreaterThan(0.05);
  });

  it.each([
    [
      "a text file named .wav",
      Buffer.from("dear diary, today I practised"),
      /not a sound recording that can be read/,
    ],
    ["an empty file", Buffer.alloc(0), /not a sound recording/],
    ["a picture", Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0, 16]), /not a sound recording/],
    [
      "FLAC that is noise after its name",
      Buffer.concat([Buffer.from("fLaC"), Buffer.alloc(2000, 7)]),
      /FLAC file is damaged|holds no sound/,
    ],
    [
      "Ogg that is noise after its name",
      Buffer.concat([Buffer.from("OggS"), Buffer.alloc(2000, 7)]),
      /OGG file is damaged|holds no sound/,
    ],
    [
      "WebM without a track",
      Buffer.concat([Buffer.from([0x1a, 0x45, 0xdf, 0xa3]), Buffer.alloc(200)]),
      /WEBM file is damaged|holds no Opus sound/,
    ],
    [
      "a WAV of a moment",
      Buffer.from(writeWav({ samples: new Float32Array(100), sampleRate: 44100 })),
      /holds no sound/,
    ],
  ])("refuses %s with one sentence", async (_, bytes, sentence) => {
    await expect(decodeSound(bytes)).rejects.toThrow(AudioReadError);
    await expect(decodeSound(bytes)).rejects.toThrow(sentence);
  });
});
