export type SoundKind = "wav" | "flac" | "mp3" | "ogg" | "webm" | "m4a";

export const CONTENT_TYPES: Record<SoundKind, string> = {
  wav: "audio/wav",
  flac: "audio/flac",
  mp3: "audio/mpeg",
  ogg: "audio/ogg",
  webm: "audio/webm",
  m4a: "audio/mp4",
};

/** What a file really is, by its first bytes; null when it is no sound we know. Its name is never asked. */
export function sniffSound(bytes: Uint8Array): SoundKind | null {
  const text = (from: number, to: number) => String.fromCharCode(...bytes.subarray(from, to));
  if (text(0, 4) === "RIFF" && text(8, 12) === "WAVE") return "wav";
  if (text(0, 4) === "fLaC") return "flac";
  if (text(0, 4) === "OggS") return "ogg";
  if (bytes[0] === 0x1a && bytes[1] === 0x45 && bytes[2] === 0xdf && bytes[3] === 0xa3) return "webm";
  if (text(4, 8) === "ftyp") return "m4a";
  if (text(0, 3) === "ID3" || (bytes[0] === 0xff && (bytes[1]! & 0xe0) === 0xe0 && (bytes[1]! & 0x06) !== 0))
    return "mp3";
  return null;
}
