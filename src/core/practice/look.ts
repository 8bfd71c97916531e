import { LETTERS, type Letter, type Pitch, pitchName, signatureAlter } from "../music";
import { seededRandom } from "../rhythm";
import { beatOfMetre, compareBars, fractionToNumber, metresOf, type Score, timeline } from "../score";

/** One thing to find out by looking, with its answer. */
export type LookQuestion =
  /** Which letters the signature changes; an empty list for none. */
  | { kind: "key"; fifths: number; choices: number[]; answer: number }
  /** Every place of a note that is new. */
  | { kind: "find"; note: string; eventIds: string[] }
  /** How many beats a note of a bar lasts. */
  | { kind: "beats"; measure: string; eventId: string; note: string; choices: number[]; answer: number }
  /** How often a note comes in a bar. */
  | { kind: "often"; measure: string; note: string; choices: number[]; answer: number }
  /** Which bar is like this one, note for note. */
  | { kind: "same"; measure: string; choices: string[]; answer: string };

/** So many questions make a look of a minute. */
const MOST_QUESTIONS = 5;
/** New notes beyond so many are another line. */
const MOST_FOUND = 2;

/**
 * What a player is asked to look for in a part before playing it: the signature, where the new notes are, how long and how
 * often notes come in a bar, which bars are the same. The same seed gives the same questions.
 *
 * @param newNotes  written notes that are new to the player
 */
export function lookQuestions(score: Score, newNotes: readonly Pitch[], seed: number): LookQuestion[] {
  const random = seededRandom(seed);
  const measures = score.parts[0].measures;
  const pitched = measures.some(({ events }) => events.some(({ pitch }) => pitch));
  const questions: LookQuestion[] = [];
  if (pitched) questions.push(keyQuestion(measures[0]?.key?.fifths ?? 0, random));
  for (const pitch of newNotes.slice(0, MOST_FOUND)) {
    const eventIds = measures.flatMap(({ events }) =>
      events.flatMap((event) =>
        event.pitch && pitchName(event.pitch) === pitchName(pitch) ? [event.id] : [],
      ),
    );
    if (eventIds.length > 0) questions.push({ kind: "find", note: pitchName(pitch, false), eventIds });
  }
  const same = sameQuestion(score, random);
  if (same) questions.push(same);
  questions.push(...barQuestions(score, random));
  return questions.slice(0, MOST_QUESTIONS);
}

function keyQuestion(fifths: number, random: () => number): LookQuestion {
  const others = [-4, -3, -2, -1, 0, 1, 2, 3, 4].filter(
    (each) => each !== fifths && Math.abs(each - fifths) <= 3,
  );
  return {
    kind: "key",
    fifths,
    answer: fifths,
    choices: mixed([fifths, ...some(others, 2, random)], random),
  };
}

/** The letters a signature changes, in the order in which they stand in it. */
export function changedLetters(fifths: number): Letter[] {
  const order = ["F", "C", "G", "D", "A", "E", "B"] as const;
  const inOrder = fifths < 0 ? [...order].reverse() : [...order];
  return inOrder.filter((letter) => LETTERS.includes(letter) && signatureAlter(fifths, letter) !== 0);
}

function sameQuestion(score: Score, random: () => number): LookQuestion | null {
  const bars = compareBars(score);
  const repeats = bars.filter(({ relation }) => relation === "same");
  const chosen = repeats[Math.floor(random() * repeats.length)];
  if (!chosen?.like) return null;
  const others = bars
    .filter(({ number, like }) => number !== chosen.number && number !== chosen.like && like !== chosen.like)
    .map(({ number }) => number);
  if (others.length === 0) return null;
  return {
    kind: "same",
    measure: chosen.number,
    answer: chosen.like,
    choices: mixed([chosen.like, ...some([...new Set(others)], 2, random)], random),
  };
}

/** One bar by the length of a note, another by how often one comes; those with most to see first. */
function barQuestions(score: Score, random: () => number): LookQuestion[] {
  const { notes } = timeline(score);
  const metres = metresOf(score.parts[0].measures);
  const bars = score.parts[0].measures
    .map((measure, index) => ({
      measure,
      notes: notes.filter((n) => n.pass === 1 && n.measureIndex === index),
      index,
    }))
    .filter((bar) => bar.notes.length > 1)
    .sort((a, b) => b.notes.length - a.notes.length || a.index - b.index);
  const found: LookQuestion[] = [];
  for (const { measure, notes: own, index } of bars) {
    const long = own.find(
      (note) => own.filter((each) => each.durationQuarters === note.durationQuarters).length === 1,
    );
    const beats = long && long.durationQuarters / fractionToNumber(beatOfMetre(metres[index]!));
    if (long?.written && beats && !found.some(({ kind }) => kind === "beats")) {
      const others = [0.5, 1, 1.5, 2, 3, 4].filter((each) => each !== beats);
      found.push({
        kind: "beats",
        measure: measure.number,
        eventId: long.eventId,
        note: pitchName(long.written, false),
        answer: beats,
        choices: [beats, ...some(others, 2, random)].sort((a, b) => a - b),
      });
    }
    const counts = new Map<string, number>();
    for (const note of own)
      if (note.written) counts.set(pitchName(note.written), (counts.get(pitchName(note.written)) ?? 0) + 1);
    const often = [...counts].find(([, count]) => count > 1);
    if (often && !found.some(({ kind }) => kind === "often"))
      found.push({
        kind: "often",
        measure: measure.number,
        note: often[0].replace(/\d+$/, ""),
        answer: own.filter(
          ({ written }) => written && pitchName(written, false) === often[0].replace(/-?\d+$/, ""),
        ).length,
        choices: [1, 2, 3, 4, 5, 6].filter((each) => Math.abs(each - often[1]) <= 1),
      });
    if (found.length === 2) break;
  }
  return found;
}

function some<T>(from: readonly T[], count: number, random: () => number): T[] {
  return mixed(from, random).slice(0, count);
}

function mixed<T>(from: readonly T[], random: () => number): T[] {
  const left = [...from];
  const order: T[] = [];
  while (left.length > 0) order.push(...left.splice(Math.floor(random() * left.length), 1));
  return order;
}
