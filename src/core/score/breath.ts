import type { Stage } from "../music";
import type { SoundingNote, Timeline } from "./timeline";

/**
 * Seconds a breath lasts in playing, by stage. Ten seconds is a good long tone (common practice, no published source); the
 * way there is from memory.
 */
export const BREATH_SEC: Record<Stage, number> = {
  "making-a-sound": 4,
  "five-notes": 6,
  "small-tunes": 8,
  widening: 10,
};

/** Stretches that are played on one breath as written: from a rest or breath mark to the next, each once. */
export function phrasesOf({ notes }: Timeline): SoundingNote[][] {
  const phrases: SoundingNote[][] = [];
  let before: SoundingNote | undefined;
  for (const note of notes.filter((each) => each.pass === 1)) {
    const silent =
      before === undefined || note.onsetQuarters - before.onsetQuarters - before.durationQuarters > 1e-9;
    if (silent || before!.breath) phrases.push([]);
    phrases.at(-1)!.push(note);
    before = note;
  }
  return phrases;
}

/** From the first attack to the end of the last note. */
export function secondsOf(phrase: readonly SoundingNote[]): number {
  const [first, last] = [phrase[0], phrase.at(-1)];
  return first && last ? last.onsetSec + last.durationSec - first.onsetSec : 0;
}

/** Bars that phrases commonly have, the longest first, and what a place at their end is worth. */
const PHRASE_BARS: [bars: number, worth: number][] = [
  [4, 6],
  [2, 4],
  [1, 1],
];
/** A note of two counts or more is a place to breathe after. */
const LONG_NOTE = { counts: 2, worth: 2 };

/**
 * Cuts a phrase where a player may breathe: never inside a slur, at the end of four or two bars before anywhere else, after
 * a long note before a short one, and each part no longer than the breath where the slurs allow it.
 *
 * @param line  the timeline the phrase is from: its first note and metre say where bars end
 */
export function parted(phrase: readonly SoundingNote[], line: Timeline, breathSec: number): SoundingNote[][] {
  const origin = line.notes[0]!.onsetQuarters;
  const bar = line.measures[0]!.barQuarters;
  const parts: SoundingNote[][] = [];
  let from = 0;
  while (secondsOf(phrase.slice(from)) > breathSec) {
    const places = phrase
      .slice(from, -1)
      .flatMap((note, i): { end: number; worth: number; inTime: boolean }[] => {
        const next = phrase[from + i + 1]!;
        if (next.slurred) return [];
        const gone = next.onsetQuarters - origin;
        const bars = PHRASE_BARS.find(([count]) => Math.abs(gone % (count * bar)) < 1e-9)?.[1] ?? 0;
        const long = note.durationQuarters >= LONG_NOTE.counts * line.beatQuarters ? LONG_NOTE.worth : 0;
        const end = from + i + 1;
        return [{ end, worth: bars + long, inTime: secondsOf(phrase.slice(from, end)) <= breathSec }];
      });
    const inTime = places.filter((place) => place.inTime);
    const best =
      inTime.length > 0
        ? inTime.reduce((chosen, place) => (place.worth >= chosen.worth ? place : chosen))
        : places[0];
    if (!best) break;
    parts.push(phrase.slice(from, best.end));
    from = best.end;
  }
  return [...parts, phrase.slice(from)];
}

/**
 * Where to breathe in a part that says too little about it: ids of the noteheads after which a breath is proposed, for
 * phrases that are longer than the breath.
 */
export function breathPlaces(line: Timeline, breathSec: number): string[] {
  return phrasesOf(line)
    .filter((phrase) => secondsOf(phrase) > breathSec)
    .flatMap((phrase) =>
      parted(phrase, line, breathSec)
        .slice(0, -1)
        .map((part) => part.at(-1)!.eventIds.at(-1)!),
    );
}
