import type { Pcm } from "./pcm";

/** What a short check of a microphone found. Levels in dB below full scale: never sound pressure. */
export interface LevelCheck {
  /** The quiet of the room and the loudest of what was played. */
  roomDb: number;
  playedDb: number;
  verdict: "good" | "silent" | "soft" | "clipped" | "noisy";
}

const FRAME_SEC = 0.05;
/** Samples this near full scale are cut off; so many of them are heard as a crackle. */
const FULL = 0.985;
const CUT_SAMPLES = 8;
/** Nothing came in at all; a take this soft is heard badly; so little over the room hides soft notes. */
const SILENT_DB = -70;
const SOFT_DB = -38;
const LEAST_OVER_ROOM_DB = 18;

/**
 * Whether a microphone hears a player well: the room alone first, then a note.
 *
 * @param quietSec  how long nothing was played at the beginning
 */
export function checkLevel({ samples, sampleRate }: Pcm, quietSec: number): LevelCheck {
  const frame = Math.max(1, Math.round(FRAME_SEC * sampleRate));
  const levels: number[] = [];
  let cut = 0;
  for (let at = 0; at + frame <= samples.length; at += frame) {
    let sum = 0;
    for (let i = at; i < at + frame; i++) {
      const sample = samples[i]!;
      sum += sample * sample;
      if (Math.abs(sample) >= FULL) cut++;
    }
    levels.push(10 * Math.log10(sum / frame + 1e-12));
  }
  const quiet = Math.max(1, Math.floor(quietSec / FRAME_SEC));
  const room = levels.slice(0, quiet).sort((a, b) => a - b);
  const roomDb = Math.round(room[Math.floor(room.length / 2)] ?? -120);
  const playedDb = Math.round(Math.max(-120, ...levels.slice(quiet)));
  const verdict =
    playedDb < SILENT_DB
      ? "silent"
      : cut >= CUT_SAMPLES
        ? "clipped"
        : playedDb < SOFT_DB
          ? "soft"
          : playedDb - roomDb < LEAST_OVER_ROOM_DB
            ? "noisy"
            : "good";
  return { roomDb, playedDb, verdict };
}
