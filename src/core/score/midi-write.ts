import { type MidiEvent, writeMidi as writeMidiFile } from "midi-file";
import type { Score } from "./model";
import { metresOf, type Timeline, timeline } from "./timeline";

const TICKS_A_QUARTER = 480;
const VELOCITY = 80;
/** A note ends this share of its length before the next, so that repeated notes speak. */
const SOUNDING_SHARE = 0.95;
/** Unpitched strokes sound as an acoustic snare on the drum channel (General MIDI 1). */
const DRUM_CHANNEL = 9;
const SNARE = 38;

/** An event with the tick it belongs to, and its place among those of one tick: ends, then tempo and metre, then beginnings. */
interface Placed {
  tick: number;
  place: 0 | 1 | 2;
  event: MidiEvent;
}

/**
 * Writes a part as a standard MIDI file, format 0: repeats unfolded, sounding pitch, tempo and metre with their changes.
 * @param bpm  in the score's beat unit; the mark when left out
 * Source: Standard MIDI Files 1.0 (MIDI Manufacturers Association, RP-001).
 */
export function writeMidi(part: Score, bpm?: number): Uint8Array<ArrayBuffer> {
  const line = timeline(part, bpm === undefined ? {} : { bpm });
  const events = [...notesOf(line), ...tempiAndMetres(part, line)].sort(
    (a, b) => a.tick - b.tick || a.place - b.place,
  );
  let tick = 0;
  const track = events.map(({ tick: at, event }): MidiEvent => {
    const deltaTime = at - tick;
    tick = at;
    return { ...event, deltaTime };
  });
  return Uint8Array.from(
    writeMidiFile({
      header: { format: 0, numTracks: 1, ticksPerBeat: TICKS_A_QUARTER },
      tracks: [
        [
          { deltaTime: 0, meta: true, type: "trackName", text: utf8(part.title) },
          ...track,
          { deltaTime: 0, meta: true, type: "endOfTrack" },
        ],
      ],
    }),
  );
}

/** The library writes a letter a byte: text goes as the letters of its UTF-8 bytes. */
function utf8(text: string): string {
  return String.fromCharCode(...new TextEncoder().encode(text));
}

function notesOf(line: Timeline): Placed[] {
  return line.notes.flatMap((note): Placed[] => {
    const [channel, noteNumber] = note.midi === null ? [DRUM_CHANNEL, SNARE] : [0, note.midi];
    const on = Math.round(note.onsetQuarters * TICKS_A_QUARTER);
    const off = Math.max(
      on + 1,
      Math.round((note.onsetQuarters + note.durationQuarters * SOUNDING_SHARE) * TICKS_A_QUARTER),
    );
    const about = { deltaTime: 0, channel, noteNumber };
    return [
      { tick: on, place: 2, event: { ...about, type: "noteOn", velocity: VELOCITY } },
      { tick: off, place: 0, event: { ...about, type: "noteOff", velocity: 0 } },
    ];
  });
}

/** Tempo and metre events at the start and wherever they change. */
function tempiAndMetres(part: Score, line: Timeline): Placed[] {
  const metres = metresOf(part.parts[0].measures);
  let before = "";
  return line.measures.flatMap((measure): Placed[] => {
    const { beats, beatType } = metres[measure.measureIndex]!;
    const microsecondsPerBeat = Math.round(1_000_000 * measure.secPerQuarter);
    const now = `${microsecondsPerBeat} ${beats}/${beatType}`;
    if (now === before) return [];
    before = now;
    const tick = Math.round(measure.onsetQuarters * TICKS_A_QUARTER);
    const about = { deltaTime: 0, meta: true as const };
    return [
      { tick, place: 1, event: { ...about, type: "setTempo", microsecondsPerBeat } },
      {
        tick,
        place: 1,
        event: {
          ...about,
          type: "timeSignature",
          numerator: beats,
          denominator: beatType,
          metronome: 24,
          thirtyseconds: 8,
        },
      },
    ];
  });
}
