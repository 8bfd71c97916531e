import type { Assessment, Mode, Sung } from "../listen";
import { modeFor } from "../listen";
import { comfortableNote, onOneNote } from "../playalong";
import { countClean, isClean, recordedNotes } from "../progress";
import { cutBars, type Measure, measureOfEvents, type Score } from "../score";
import type { Outcome } from "./ladder";
import type { Leg, Place } from "./path";

/** What is played in one round, and how it is heard. */
export interface Round {
  score: Score;
  /** Undefined leaves it to the notes. */
  mode: Mode | undefined;
}

/**
 * What one round asks for: the passage, on one note, tongued, or clapped. Event ids stay those of the part, so that the
 * notation shows what was heard.
 */
export function roundOf(score: Score, leg: Pick<Leg, "step">, place: Place, instrumentId: string): Round {
  const last = score.parts[0].measures.length - 1;
  // A whole line keeps its repeats; a passage has none.
  const passage = place.from === 0 && place.to === last ? score : cutBars(score, place.from, place.to);
  switch (leg.step) {
    case "count":
      return { score: passage, mode: "rhythm" };
    case "one-note":
      return { score: onOneNote(passage, comfortableNote(passage, instrumentId)), mode: modeFor(score) };
    default:
      return { score: place.kind === "tongued" ? tongued(passage) : passage, mode: modeFor(score) };
  }
}

/** The same line with every note tongued: what a slur is cleaned by (common practice, no published source). */
export function tongued(score: Score): Score {
  const [first, ...others] = score.parts;
  const plain = (measure: Measure): Measure => ({
    ...measure,
    events: measure.events.map(({ slurStart: _on, slurStop: _off, ...event }) => event),
  });
  return { ...score, parts: [{ ...first, measures: first.measures.map(plain) }, ...others] };
}

/** A clean round has no wrong note, no stop, and so many of its notes in time and full; under the lower share it was poor. */
const CLEAN_SHARE = 0.9;
const POOR_SHARE = 0.7;

/** What is told of a round. */
export interface Judged {
  /** Null when nothing could be heard that belongs to it: that is held against nobody. */
  outcome: Outcome | null;
  notes: number;
  clean: number;
  wrong: number;
  /** Strokes nobody wrote, or notes when there are several: an engine may err once. */
  tooMany: number;
  /** What to say when there is no outcome. */
  status: Assessment["take"]["status"];
}

/**
 * Whether a round was clean: every note found and none too many, at least nine of ten in time and full, no stop on the way; poor when
 * fewer than seven of ten were right. In a line of few notes one uneven note is let pass: an engine may err once, a child too.
 * Another piece counts as poor, silence and noise as nothing.
 */
export function judgeRound({
  take,
  breaks,
  extras,
  ...heard
}: Pick<Assessment, "take" | "notes" | "breaks" | "extras">): Judged {
  const notes = recordedNotes(heard.notes);
  const { clean, wrong } = countClean(notes);
  const tooMany = extras.length > 1 || extras.some(({ midi }) => midi === null) ? extras.length : 0;
  const told = { notes: notes.length, clean, wrong, tooMany, status: take.status };
  if (take.status === "no-match") return { ...told, outcome: "poor" };
  if (take.status !== "assessed" || notes.length === 0) return { ...told, outcome: null };
  const stopped = breaks.length > 0;
  const uneven = notes.length - clean - wrong;
  if (wrong === 0 && tooMany === 0 && !stopped && (clean >= CLEAN_SHARE * notes.length || uneven <= 1))
    return { ...told, outcome: "clean" };
  return { ...told, outcome: clean < POOR_SHARE * notes.length ? "poor" : "nearly" };
}

/** Of a line that was sung so many notes are enough: ears are trained by it, nobody is marked. */
const SUNG_SHARE = 0.6;

/**
 * What came of a line that was sung. It is never poor: who sings beside the notes sings again or goes on, and nothing easier is
 * pressed on anybody. Without a voice there is no outcome.
 */
export function judgeSinging({ notes, found }: Sung): Judged {
  const silent = notes.filter(({ heard }) => heard === "silent").length;
  const told = { notes: notes.length, clean: found, wrong: notes.length - found, tooMany: 0 };
  if (silent === notes.length) return { ...told, outcome: null, status: "no-music" };
  return { ...told, outcome: found >= SUNG_SHARE * notes.length ? "clean" : "nearly", status: "assessed" };
}

/** Notes that were not clean, counted by bar of the part: where to make it smaller. */
export function wrongByBar(score: Score, { notes }: Pick<Assessment, "notes">): Map<number, number> {
  const barOf = measureOfEvents(score);
  const wrong = new Map<number, number>();
  for (const note of notes) {
    const bar = barOf.get(note.eventId);
    if (bar !== undefined && !isClean(note)) wrong.set(bar, (wrong.get(bar) ?? 0) + 1);
  }
  return wrong;
}
