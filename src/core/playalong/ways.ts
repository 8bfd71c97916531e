import { instrumentById, type Pitch, parsePitch, transposePitch, writtenInterval } from "../music";
import { type Score, SLOWEST_BPM, timeline, vocabularyOf } from "../score";
import type { PlayAlong, PlayAlongOptions } from "./events";
import { playAlong } from "./events";
import {
  backwards,
  callAndResponse,
  changeDrill,
  inHalves,
  onOneNote,
  passage,
  tempoLadder,
} from "./practice";

/** Ways to practise a line with sound. */
export type Way = "plain" | "one-note" | "halves" | "backwards" | "call" | "ladder" | "change";

export interface WaySettings extends PlayAlongOptions {
  way: Way;
  /** Beats a minute in the score's beat unit. */
  bpm: number;
  /** Played measures from this place, from 0, to before that one. */
  from: number;
  to: number;
  /** Places of two notes in the part's vocabulary, for the change drill. */
  pair: readonly [number, number];
}

/** A ladder climbs to the tempo chosen in these shares of it (common practice, no published source). */
const LADDER = [0.65, 0.8, 1];
const CALL_BARS = 2;

/**
 * A line made ready to be practised in one way.
 * @param instrumentId  whose part it is, or "concert"
 * @throws RangeError for a tempo, passage or pair that is not in the line
 */
export function wayPlan(
  score: Score,
  instrumentId: string,
  { way, bpm, from, to, pair, ...options }: WaySettings,
): PlayAlong {
  const played = way === "one-note" ? onOneNote(score, comfortableNote(score, instrumentId)) : score;
  const line = () => passage(timeline(played, { bpm }), from, to);
  switch (way) {
    case "halves":
      return inHalves(line(), options);
    case "backwards":
      return backwards(line(), options);
    case "call":
      return callAndResponse(line(), CALL_BARS, options);
    case "change": {
      const { notes } = vocabularyOf(score);
      const [a, b] = pair.map(
        (index) => notes[index] && transposePitch(notes[index], score.parts[0].soundsBy),
      );
      if (!a || !b) throw new RangeError("A change drill needs two notes of the line");
      return changeDrill(a, b);
    }
    case "ladder":
      return tempoLadder(
        score,
        LADDER.map((share) => Math.max(SLOWEST_BPM, Math.round(bpm * share))),
        options,
      );
    default:
      return playAlong(line(), options);
  }
}

/** Concert F as the part writes it, in the octave nearest the line: a note every beginner has early and keeps. */
export function comfortableNote(score: Score, instrumentId: string): Pitch {
  const concert = parsePitch("F4");
  const written =
    instrumentId === "concert"
      ? concert
      : transposePitch(concert, writtenInterval(instrumentById(instrumentId)));
  const octaves = score.parts[0].measures.flatMap((measure) =>
    measure.events.flatMap((event) => (event.pitch ? [event.pitch.octave] : [])),
  );
  const mean = octaves.reduce((sum, each) => sum + each, 0) / Math.max(1, octaves.length);
  return { ...written, octave: octaves.length > 0 ? Math.round(mean) : written.octave };
}
