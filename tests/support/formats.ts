import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Pcm, writeWav } from "../../src/core/audio";

/** How ffmpeg is asked for each format that a phone or a program sends. */
export const FORMATS: Record<string, string[]> = {
  wav: ["-c:a", "pcm_s16le"],
  flac: ["-c:a", "flac"],
  mp3: ["-c:a", "libmp3lame", "-b:a", "64k"],
  ogg: ["-c:a", "libopus", "-b:a", "24k"],
  webm: ["-c:a", "libopus", "-b:a", "24k"],
  m4a: ["-c:a", "aac", "-b:a", "24k"],
};

/** A sound as a file of that format, made by ffmpeg: an encoder that is not ours. */
export function encodeWith(pcm: Pcm, extension: string, how: string[] = FORMATS[extension]!): Uint8Array {
  const folder = mkdtempSync(join(tmpdir(), "ulu-format-"));
  try {
    writeFileSync(join(folder, "in.wav"), writeWav(pcm));
    execFileSync("ffmpeg", ["-v", "error", "-y", "-i", "in.wav", "-ac", "1", ...how, `out.${extension}`], {
      cwd: folder,
    });
    return readFileSync(join(folder, `out.${extension}`));
  } finally {
    rmSync(folder, { recursive: true });
  }
}
