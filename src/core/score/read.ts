import { readAbc } from "./abc-read";
import { readMidi } from "./midi-read";
import { type ReadChoices, readMusicXml, type ScoreReading } from "./musicxml-read";

/**
 * Reads a score by what the file holds, never by its name: MusicXML (plain or .mxl), one tune in ABC, or MIDI.
 * @throws ScoreReadError with the line and the reason
 */
export function readScore(bytes: Uint8Array, choices: ReadChoices = {}): ScoreReading {
  if (String.fromCharCode(...bytes.subarray(0, 4)) === "MThd") return readMidi(bytes);
  const text = bytes.length < 1_000_000 && bytes[0] !== 0x50 ? new TextDecoder().decode(bytes) : "";
  const looksLikeAbc = !text.trimStart().startsWith("<") && /^K:/m.test(text) && /^X:/m.test(text);
  return looksLikeAbc ? readAbc(text.replace(/^\uFEFF/, ""), choices) : readMusicXml(bytes, choices);
}
