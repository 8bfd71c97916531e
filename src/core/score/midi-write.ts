import type { Score } from "./model";
import { metreAt, type Timeline, timeline } from "./timeline";

const TICKS_A_QUARTER = 480;
const NOTE_ON = 0x90;
const NOTE_OFF = 0x80;
const VELOCITY = 80;
/** A note ends this share of its length before the next, so that repeated notes speak. */
const SOUNDING_SHARE = 0.95;
/** Unpitched strokes sound as an acoustic snare on the drum channel (General MIDI 1). */
const DRUM_CHANNEL = 9;
const SNARE = 38;

/**
 * Writes a part as a standard MIDI file, format 0: repeats unfolded, sounding pitch, tempo and metre with their changes.
 * @param bpm  in the score's beat unit; the mark when left out
 * Source: Standard MIDI Files 1.0 (MIDI Manufacturers Association, RP-001).
 */
export function writeMidi(part: Score, bpm?: number): Uint8Array<ArrayBuffer> {
  const line = timeline(part, bpm === undefined ? {} : { bpm });
  const events = line.notes.flatMap((note) => {
    const [channel, key] = note.midi === null ? [DRUM_CHANNEL, SNARE] : [0, note.midi];
    const on = Math.round(note.onsetQuarters * TICKS_A_QUARTER);
    const off = Math.max(
      on + 1,
      Math.round((note.onsetQuarters + note.durationQuarters * SOUNDING_SHARE) * TICKS_A_QUARTER),
    );
    return [
      { tick: on, bytes: [NOTE_ON + channel, key, VELOCITY] },
      { tick: off, bytes: [NOTE_OFF + channel, key, 0] },
    ];
  });
  events.push(...tempiAndMetres(part, line));
  // Of one moment: notes end, then tempo and metre change, then notes begin.
  const place = ([status]: number[]) => (status === 0xff ? 1 : status! < NOTE_ON ? 0 : 2);
  events.sort((a, b) => a.tick - b.tick || place(a.bytes) - place(b.bytes));
  const title = [...new TextEncoder().encode(part.title)];
  const track = [0, 0xff, 0x03, ...variableLength(title.length), ...title];
  let tick = 0;
  for (const event of events) {
    track.push(...variableLength(event.tick - tick), ...event.bytes);
    tick = event.tick;
  }
  track.push(0, 0xff, 0x2f, 0);
  return Uint8Array.from([
    ...chunk("MThd", [0, 0, 0, 1, TICKS_A_QUARTER >> 8, TICKS_A_QUARTER & 255]),
    ...chunk("MTrk", track),
  ]);
}

/** Tempo and metre events at the start and wherever they change. */
function tempiAndMetres(part: Score, line: Timeline): { tick: number; bytes: number[] }[] {
  let before = "";
  return line.measures.flatMap((measure) => {
    const { beats, beatType } = metreAt(part.parts[0], measure.measureIndex);
    const micros = Math.round(1_000_000 * measure.secPerQuarter);
    const now = `${micros} ${beats}/${beatType}`;
    if (now === before) return [];
    before = now;
    const tick = Math.round(measure.onsetQuarters * TICKS_A_QUARTER);
    return [
      { tick, bytes: [0xff, 0x51, 3, (micros >> 16) & 255, (micros >> 8) & 255, micros & 255] },
      { tick, bytes: [0xff, 0x58, 4, beats, Math.round(Math.log2(beatType)), 24, 8] },
    ];
  });
}

function chunk(tag: string, body: number[]): number[] {
  const size = [24, 16, 8, 0].map((shift) => (body.length >>> shift) & 255);
  return [...[...tag].map((letter) => letter.charCodeAt(0)), ...size, ...body];
}

/** Seven bits a byte, most significant first, all but the last with the high bit set. */
function variableLength(value: number): number[] {
  const bytes = [value & 127];
  for (let rest = value >> 7; rest > 0; rest >>= 7) bytes.unshift((rest & 127) | 128);
  return bytes;
}
