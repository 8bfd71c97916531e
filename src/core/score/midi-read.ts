import { type MidiData, type MidiEvent, parseMidi } from "midi-file";
import { groupBy } from "../lists";
import { signatureAlter, spellMidi } from "../music";
import { type Frame, layInBars, type Token } from "./bars";
import {
  addFractions,
  compareFractions,
  type Fraction,
  fraction,
  fractionToNumber,
  multiplyFractions,
  subtractFractions,
  sumFractions,
} from "./fraction";
import { SCORE_LIMITS } from "./limits";
import { barQuarters, type Part } from "./model";
import type { ScoreReading } from "./musicxml-read";
import { shapeOfDuration } from "./shape";
import { ScoreReadError } from "./xml-tree";

const MAX_BYTES = 2_000_000;
const MAX_NOTES = 5_000;
const MAX_QUARTERS = 4_000;
const DRUM_CHANNEL = 9;
/** A gap before the next note shorter than this share of the note is how it was played, not a rest. */
const PLAYED_GAP = 0.35;
/** Keys tried when the file states none, simplest first. */
const KEYS_TRIED = [0, -1, 1, -2, 2, -3, 3, -4, 4];

interface Played {
  midi: number;
  from: number;
  to: number;
}
interface Placed {
  midi: number;
  from: Fraction;
  to: Fraction;
}

/**
 * Reads a standard MIDI file: each track (and channel of it) a part, the one with the most notes first and drums last; of what
 * sounds together the highest; onsets and ends moved to the nearest sixteenth or triplet eighth. A convenience: a MIDI file has no spelling, slurs or note values.
 *
 * @returns a concert-pitch score; what was moved or left out is told
 * @throws ScoreReadError with the reason
 * Source: Standard MIDI Files 1.0 (MIDI Manufacturers Association, RP-001).
 */
export function readMidi(bytes: Uint8Array): ScoreReading {
  if (bytes.length > MAX_BYTES) throw new ScoreReadError("the MIDI file is larger than 2 MB");
  let file: MidiData;
  try {
    file = parseMidi(bytes);
  } catch {
    throw new ScoreReadError("this MIDI file is damaged");
  }
  const ticks = file.header.ticksPerBeat;
  if (!ticks) throw new ScoreReadError("this MIDI file counts in film frames, not in beats");
  const tracks = tracksOf(file, ticks);
  if (tracks.length === 0) throw new ScoreReadError("there are no notes in this file");
  const notes = tracks.reduce((sum, track) => sum + track.notes.length, 0);
  const last = tracks.flatMap((track) => track.notes).reduce((latest, note) => Math.max(latest, note.to), 0);
  if (notes > MAX_NOTES || last > MAX_QUARTERS)
    throw new ScoreReadError("this MIDI file is longer than a line of music");

  const metas = file.tracks.flatMap((track) => withTicks(track));
  const told: string[] = [];
  if (tracks.length > SCORE_LIMITS.parts) {
    told.push(`${tracks.length - SCORE_LIMITS.parts} of ${tracks.length} tracks were left out`);
    tracks.length = SCORE_LIMITS.parts;
  }
  const fifths = statedKey(metas);
  try {
    const parts = tracks.map((track, place): Part => {
      const { melody, dropped } = highestOf(track.notes);
      const own = tracks.length > 1 ? `${track.name}: ` : "";
      if (dropped > 0)
        told.push(
          `${own}${dropped === 1 ? "1 note" : `${dropped} notes`} that sound together with a higher one`,
        );
      const { placed, moved } = onGrid(melody);
      if (moved > 0.02)
        told.push(`${own}timing: notes were moved by up to ${moved.toFixed(2)} of a quarter note`);
      return partOf(track, place, placed, fifths ?? likelyKey(placed), metas, last);
    });
    const [first, ...others] = parts;
    return { score: { title: titleOf(metas), parts: [first!, ...others] }, notUnderstood: told };
  } catch (error) {
    if (error instanceof RangeError)
      throw new ScoreReadError(`this MIDI file cannot be written in bars: ${error.message}`);
    throw error;
  }
}

/** The notes of one track on one channel. */
interface Track {
  name: string;
  notes: Played[];
  drums: boolean;
}

/** Tracks and channels that have notes, those with the most first, drums last. */
function tracksOf(file: MidiData, ticksPerBeat: number): Track[] {
  const tracks = file.tracks.flatMap((events, place): Track[] => {
    const named = events.find((event) => event.type === "trackName");
    const name = (named?.type === "trackName" && named.text.trim().slice(0, 60)) || `Track ${place + 1}`;
    const channels = channelsOf(events, ticksPerBeat);
    return [...channels].map(([channel, notes]) => ({
      name: channels.size > 1 ? `${name}, channel ${channel + 1}` : name,
      notes,
      drums: channel === DRUM_CHANNEL,
    }));
  });
  return tracks.sort((a, b) => Number(a.drums) - Number(b.drums) || b.notes.length - a.notes.length);
}

function partOf(
  { name, drums }: Track,
  place: number,
  placed: Placed[],
  fifths: number,
  metas: TimedEvent[],
  last: number,
): Part {
  const tokens = tokensOf(placed, fifths, drums).map((token) =>
    place === 0 ? token : { ...token, id: `p${place + 1}${token.id}` },
  );
  const measures = layInBars(tokens, [firstFrame(metas, fifths, drums, last)]);
  const full = measures[0]!.time!;
  const length = sumFractions(measures.at(-1)!.events.map((event) => event.duration));
  if (compareFractions(length, fraction(full.beats * 4, full.beatType)) < 0) measures.at(-1)!.implicit = true;
  return {
    id: `P${place + 1}`,
    name,
    clef: drums ? "percussion" : "treble",
    soundsBy: { letters: 0, semitones: 0 },
    measures,
  };
}

interface TimedEvent {
  tick: number;
  event: MidiEvent;
}

function withTicks(track: MidiEvent[]): TimedEvent[] {
  let tick = 0;
  return track.map((event) => ({ tick: (tick += event.deltaTime), event }));
}

/** Notes of a track in quarter notes, by channel. */
function channelsOf(track: MidiEvent[], ticksPerBeat: number): Map<number, Played[]> {
  const open = new Map<string, number>();
  const channels = new Map<number, Played[]>();
  for (const { tick, event } of withTicks(track)) {
    if (event.type !== "noteOn" && event.type !== "noteOff") continue;
    const key = `${event.channel}/${event.noteNumber}`;
    const from = open.get(key);
    if (from !== undefined) {
      const notes = channels.get(event.channel) ?? [];
      notes.push({ midi: event.noteNumber, from: from / ticksPerBeat, to: tick / ticksPerBeat });
      channels.set(event.channel, notes);
      open.delete(key);
    }
    if (event.type === "noteOn" && event.velocity > 0) open.set(key, tick);
  }
  for (const notes of channels.values()) notes.sort((a, b) => a.from - b.from || b.midi - a.midi);
  return channels;
}

/** Notes that begin within a 32nd of a higher one are a chord's lower notes. */
function highestOf(notes: Played[]): { melody: Played[]; dropped: number } {
  const melody: Played[] = [];
  for (const note of notes) {
    const before = melody.at(-1);
    if (before && note.from - before.from < 1 / 8) {
      if (note.midi > before.midi) melody[melody.length - 1] = note;
    } else melody.push(note);
  }
  return { melody, dropped: notes.length - melody.length };
}

/** Every quarter is read in fourths or in thirds, whichever its onsets fit better. */
function onGrid(notes: Played[]): { placed: Placed[]; moved: number } {
  const error = (at: number, parts: number) => Math.abs(at - Math.round(at * parts) / parts);
  const byQuarter = groupBy(notes, (note) => Math.floor(note.from + 1 / 16));
  const gridOf = (quarter: number) => {
    const onsets = byQuarter.get(quarter) ?? [];
    const sum = (parts: number) => onsets.reduce((total, note) => total + error(note.from, parts), 0);
    return sum(3) + 0.02 < sum(4) ? 3 : 4;
  };
  let moved = 0;
  const starts = notes.map((note) => {
    const parts = gridOf(Math.floor(note.from + 1 / 16));
    moved = Math.max(moved, error(note.from, parts));
    return fraction(Math.round(note.from * parts), parts);
  });
  const placed = notes.flatMap((note, i): Placed[] => {
    const from = starts[i]!;
    const next = starts[i + 1];
    if (next !== undefined && compareFractions(next, from) <= 0) return [];
    const gap = next === undefined ? 0 : (notes[i + 1]!.from - note.to) / (notes[i + 1]!.from - note.from);
    const parts = gridOf(Math.floor(note.to - 1 / 16));
    // A last note that ends a little before a beat was meant to last to it.
    const beat = Math.ceil(note.to - 1e-6);
    const toBeat = next === undefined && (beat - note.to) / (note.to - note.from) < PLAYED_GAP;
    const heard = toBeat ? String(beat) : fraction(Math.max(1, Math.round(note.to * parts)), parts);
    const to = next !== undefined && (gap < PLAYED_GAP || compareFractions(heard, next) > 0) ? next : heard;
    return [{ midi: note.midi, from, to: compareFractions(to, from) > 0 ? to : addFractions(from, "1/4") }];
  });
  return { placed, moved };
}

/** Notes and the rests between them; what lies on thirds of a beat is written as triplets, beat by beat. */
function tokensOf(notes: Placed[], fifths: number, drums: boolean): Token[] {
  const tokens: Token[] = [];
  let at: Fraction = "0";
  const add = (kind: "note" | "rest", from: Fraction, to: Fraction, midi?: number) => {
    const pieces = onThirds(from) || onThirds(to) ? beatByBeat(from, to) : [[from, to] as const];
    pieces.forEach(([start, end], i) => {
      const tied = kind === "note";
      tokens.push({
        id: `n${tokens.length + 1}`,
        kind,
        ...(midi === undefined || drums ? {} : { pitch: spellMidi(midi, fifths) }),
        duration: subtractFractions(end, start),
        ...(onThirds(start) || onThirds(end) ? tripletShape(start, end) : {}),
        ...(tied && i > 0 ? { tieStop: true as const } : {}),
        ...(tied && i < pieces.length - 1 ? { tieStart: true as const } : {}),
      });
    });
  };
  for (const { midi, from, to } of notes) {
    if (compareFractions(from, at) > 0) add("rest", at, from);
    add("note", from, to, midi);
    at = to;
  }
  return tokens;
}

function onThirds(at: Fraction): boolean {
  return at.endsWith("/3");
}

function beatByBeat(from: Fraction, to: Fraction): (readonly [Fraction, Fraction])[] {
  const pieces: (readonly [Fraction, Fraction])[] = [];
  let start = from;
  while (compareFractions(start, to) < 0) {
    const beat = String(Math.floor(Number(start.split("/")[0]) / Number(start.split("/")[1] ?? 1)) + 1);
    const end = compareFractions(beat, to) < 0 ? beat : to;
    pieces.push([start, end]);
    start = end;
  }
  return pieces;
}

function tripletShape(from: Fraction, to: Fraction): Pick<Token, "type" | "dots" | "tuplet"> {
  const written = shapeOfDuration(multiplyFractions(subtractFractions(to, from), "3/2"));
  return {
    ...written,
    tuplet: {
      actual: 3,
      normal: 2,
      ...(onThirds(from) ? {} : { start: true as const }),
      ...(onThirds(to) ? {} : { stop: true as const }),
    },
  };
}

/** @param last  quarter at which the last note ends */
function firstFrame(metas: TimedEvent[], fifths: number, drums: boolean, last: number): Frame {
  const metre = metas.find(({ event }) => event.type === "timeSignature")?.event;
  const tempo = metas.find(({ event }) => event.type === "setTempo")?.event;
  const time =
    metre?.type === "timeSignature"
      ? { beats: metre.numerator, beatType: metre.denominator }
      : { beats: 4, beatType: 4 };
  if (!(time.beats >= 1 && time.beats <= 32 && [1, 2, 4, 8, 16, 32].includes(time.beatType)))
    throw new ScoreReadError(`the time signature ${time.beats}/${time.beatType} cannot be used`);
  const bars = Math.ceil(last / fractionToNumber(barQuarters(time)));
  if (bars > SCORE_LIMITS.barsAPart)
    throw new ScoreReadError(`this would be ${bars} bars, more than ${SCORE_LIMITS.barsAPart}`);
  return {
    id: "m1",
    number: "1",
    ...(drums ? {} : { key: { fifths, mode: "major" as const } }),
    time,
    ...(tempo?.type === "setTempo" && tempo.microsecondsPerBeat > 0
      ? { tempo: { beatQuarters: "1", bpm: Math.round(60_000_000 / tempo.microsecondsPerBeat) } }
      : {}),
  };
}

function statedKey(metas: TimedEvent[]): number | undefined {
  const key = metas.find(({ event }) => event.type === "keySignature")?.event;
  return key?.type === "keySignature" && Math.abs(key.key) <= 7 ? key.key : undefined;
}

/** The key that leaves the fewest notes outside its scale; of equal ones the simplest. */
function likelyKey(notes: Placed[]): number {
  const outside = (fifths: number) =>
    notes.filter(({ midi }) => {
      const pitch = spellMidi(midi, fifths);
      return pitch.alter !== signatureAlter(fifths, pitch.letter);
    }).length;
  return KEYS_TRIED.reduce((best, fifths) => (outside(fifths) < outside(best) ? fifths : best));
}

function titleOf(metas: TimedEvent[]): string {
  const name = metas.find(({ event }) => event.type === "trackName")?.event;
  return (name?.type === "trackName" && name.text.trim()) || "Untitled line";
}
