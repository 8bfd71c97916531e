import type { Pcm } from "../audio";
import type { Timeline } from "../score";
import { extractFeatures } from "./features";
import { median } from "./statistics";

/** What was sung where a note stands. */
export interface SungNote {
  eventId: string;
  measure: string;
  /** Octaves do not count: a child sings where the voice lies. */
  heard: "there" | "high" | "low" | "silent";
  /** From the note, in the key that was sung, cents; null for silence. */
  cents: number | null;
}

/** A line that was sung in time with a beat. */
export interface Sung {
  notes: SungNote[];
  /** Notes that were there. */
  found: number;
  /** How far the whole was sung from the key that was given, semitones, -6 to 6; 0 where it was that key. */
  keySemitones: number;
}

/** Children's voices and grown ones, MIDI numbers: A2 to E6. */
const VOICE = { lowest: 45, highest: 88 };
/** A note is listened to from this share of its length on to that one: the voice slides into it, and breathes before the next. */
const FROM_SHARE = 0.3;
const TO_SHARE = 0.9;
/** A sung note is there within so many semitones of its pitch: nearer than to the next one, with some slack for a young voice. */
const THERE_SEMITONES = 0.75;
/** Another key was sung when the whole lies further away than this, semitones. */
const OTHER_KEY_SEMITONES = 0.9;
/** A frame of a voice is this periodic at least. */
const VOICED = 0.6;
/** A note of which less than this share was voiced was not sung. */
const LEAST_VOICED = 0.2;

/**
 * Listens to singing in time with a beat: whether each note's pitch was there, an octave higher or lower alike. The key may be
 * the singer's own, when all steps fit it: then that is told, and no note is wrong for it. Limits are choices from memory of
 * class singing; nothing here is a mark.
 *
 * @param pcm        what was sung, from some moment before the line on
 * @param line       the line at the tempo of the beat
 * @param lineAtSec  second of the sound at which the line begins
 * @param a4Hz       what A is tuned to
 */
export function listenToSinging(pcm: Pcm, line: Timeline, lineAtSec: number, a4Hz = 440): Sung {
  const features = extractFeatures(pcm, VOICE);
  const { midi, clarity, pitchHopSec } = features;
  const tuning = 12 * Math.log2(a4Hz / 440);
  const notes = line.notes.filter((note) => note.midi !== null);
  const away = notes.map((note): number | null => {
    const frameAt = (share: number) =>
      Math.max(0, Math.round((lineAtSec + note.onsetSec + share * note.durationSec) / pitchHopSec));
    const [from, to] = [frameAt(FROM_SHARE), Math.max(frameAt(FROM_SHARE) + 1, frameAt(TO_SHARE))];
    const voiced: number[] = [];
    for (let f = from; f < to && f < midi.length; f++)
      if (midi[f] !== 0 && clarity[f]! >= VOICED) voiced.push(folded(midi[f]! - tuning - note.midi!));
    if (voiced.length < LEAST_VOICED * (to - from)) return null;
    return aroundMedian(voiced);
  });
  const sung = away.filter((each) => each !== null);
  const key = sung.length === 0 ? 0 : aroundMedian(sung);
  const keySemitones = Math.abs(key) > OTHER_KEY_SEMITONES ? key : 0;
  const told = notes.map(({ eventId, measure }, i): SungNote => {
    if (away[i] === null) return { eventId, measure, heard: "silent", cents: null };
    const off = folded(away[i]! - keySemitones);
    return {
      eventId,
      measure,
      heard: Math.abs(off) <= THERE_SEMITONES ? "there" : off > 0 ? "high" : "low",
      cents: Math.round(100 * off),
    };
  });
  return {
    notes: told,
    found: told.filter(({ heard }) => heard === "there").length,
    keySemitones: Math.round(10 * keySemitones) / 10,
  };
}

/** A distance without its octaves, -6 to 6 semitones. */
function folded(semitones: number): number {
  return ((((semitones + 6) % 12) + 12) % 12) - 6;
}

/** The middle of distances on a circle of twelve semitones: around the one that most lie near. */
function aroundMedian(distances: readonly number[]): number {
  const near = (centre: number) => distances.filter((each) => Math.abs(folded(each - centre)) < 1).length;
  let centre = distances[0]!;
  for (const each of distances) if (near(each) > near(centre)) centre = each;
  return folded(centre + median(distances.map((each) => folded(each - centre))));
}
