import { describe, expect, it } from "vitest";
import { AudioReadError, type Pcm } from "../../src/core/audio";
import { seededRandom } from "../../src/core/rhythm";
import { decodeSound } from "../../src/server/decode";
import { encodeWith, FORMATS } from "../support/formats";

const RATE = 44_100;
const note: Pcm = {
  sampleRate: RATE,
  samples: Float32Array.from({ length: 2 * RATE }, (_, i) =>
    i < RATE / 2 ? 0 : 0.3 * Math.sin((2 * Math.PI * 440 * i) / RATE),
  ),
};
const files = new Map(Object.keys(FORMATS).map((format) => [format, encodeWith(note, format)]));

// Files made by ffmpeg, an encoder that is not ours.
describe.each([...files])("a %s file", (_format, bytes) => {
  it("is decoded at its length, with the sound where it was", async () => {
    const { samples, sampleRate } = await decodeSound(bytes);
    // MP3 and AAC pad their first and last frames.
    expect(samples.length / sampleRate).toBeGreaterThan(1.98);
    expect(samples.length / sampleRate).toBeLessThan(2.12);
    const begins = samples.findIndex((each) => Math.abs(each) > 0.1) / sampleRate;
    expect(Math.abs(begins - 0.5)).toBeLessThan(0.06);
  });

  it("that breaks off is decoded as far as it goes or refused in one sentence", async () => {
    for (const share of [0.02, 0.3, 0.6, 0.9])
      await soundOrSentence(bytes.slice(0, Math.round(share * bytes.length)));
  });

  it("with bytes changed anywhere is decoded or refused in one sentence", async () => {
    const random = seededRandom(bytes.length);
    for (let round = 0; round < 12; round++) {
      const broken = Uint8Array.from(bytes);
      for (let each = 0; each < 1 + 4 * round; each++)
        broken[Math.floor(random() * broken.length)] = Math.floor(256 * random());
      await soundOrSentence(broken);
    }
  });
});

async function soundOrSentence(bytes: Uint8Array): Promise<void> {
  const answer = await decodeSound(bytes).catch((problem: unknown) => problem);
  if (answer instanceof Error) {
    expect(answer).toBeInstanceOf(AudioReadError);
    expect(answer.message).toMatch(/^[A-Z][^\n]+\.$/);
  } else expect((answer as Pcm).samples.length).toBeGreaterThan(0);
}
