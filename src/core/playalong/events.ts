import { pitchName } from "../music";
import type { SoundingNote, Timeline, TimelineMeasure } from "../score";
import { type Naming, noteName } from "./naming";

/** One sound or word of a play-along, seconds from its beginning. */
export interface PlayAlongEvent {
  atSec: number;
  /** "subdivision" clicks stand between the beats; "start" is the first note, sounded before the count; a "cue" is text only. */
  kind: "count" | "click" | "subdivision" | "note" | "start" | "cue";
  /** First beat of a bar. */
  accent: boolean;
  /** Notes and the starting note only. */
  midi?: number;
  durationSec?: number;
  /** Grows out of the note before without a new attack; holds on into the next. */
  slurred?: true;
  slursOn?: true;
  /** Softer than the accented notes of its line. */
  beside?: true;
  /** The pitch swings so far and so fast. */
  waver?: { cents: number; hz: number };
  /** How a held note changes on its way: louder to its middle, duller to its end, or with a push when it is let go. */
  shape?: "swells" | "darkens" | "pushed-off";
  /** Id of the notehead that sounds, for a cursor. */
  eventId?: string;
  /** The player's turn: the cursor moves, nothing sounds. */
  silent?: true;
  /** What is called or shown: a note's name, "release", the starting note. */
  text?: string;
}

/** A stretch of a play-along with its own count-off. */
export interface Phase {
  label: string;
  fromSec: number;
}

export interface PlayAlong {
  events: PlayAlongEvent[];
  /** When the line's first event sounds: the length of the starting note and count-off. */
  startSec: number;
  totalSec: number;
  /** Absent for a line played once. */
  phases?: Phase[];
}

export interface PlayAlongOptions {
  /** Clicks to a beat, 1 to 4. */
  subdivisions?: 1 | 2 | 3 | 4;
  /** Sounds and names the first note before the count-off: two beats and one to breathe, or as many as are said ("three plus one"). */
  startingNote?: boolean | { sounds: number; rests: number };
  /** Calls the notes' names as they sound. */
  naming?: Naming;
  /** How much longer than written a fermata is held, in times its length; 0 plays it as written. */
  fermataHold?: number;
  countOff?: boolean;
  /** Bars that are counted, 1 to 4; one when left out. A pickup takes its place in the last of them. */
  countBars?: number;
}

/**
 * Count-off, click and reference for a line.
 * The count-off is one full bar of beats; a pickup takes its place in that bar, so that the count ends where the
 * pickup begins ("1 2 3" and in, for a pickup on four), after a whole bar of its own when the pickup is longer than half.
 * A held fermata stops the click and is released with a cue.
 *
 * @param line  timeline at the tempo to play
 */
export function playAlong(line: Timeline, options: PlayAlongOptions = {}): PlayAlong {
  const first = line.measures[0]!;
  const heldUntil = holds(line, options.fermataHold ?? 0);
  const barQuarters = first.durationQuarters + line.pickupOffsetQuarters;
  const counted =
    options.countOff === false
      ? 0
      : countQuarters(line, first) + ((options.countBars ?? 1) - 1) * barQuarters;
  const wanted = options.startingNote === true ? { sounds: 2, rests: 1 } : options.startingNote;
  const beatSec = first.beatQuarters * first.secPerQuarter;
  const starting = wanted ? startingNote(line, wanted.sounds * beatSec) : [];
  const leadSec = wanted && starting.length > 0 ? (wanted.sounds + wanted.rests) * beatSec : 0;
  const startSec = leadSec + counted * first.secPerQuarter;
  const accents = line.notes.some(isAccented);
  const events: PlayAlongEvent[] = [...starting];
  for (let at = 0; at < counted - 1e-9; at += first.beatQuarters)
    events.push({
      atSec: leadSec + at * first.secPerQuarter,
      kind: "count",
      accent: Math.abs(at % barQuarters) < 1e-9,
    });
  for (const bar of line.measures)
    events.push(
      ...barClicks(
        bar,
        bar === first ? line.pickupOffsetQuarters : 0,
        bar.durationQuarters,
        options.subdivisions ?? 1,
      ).map((click) => {
        const inLine = bar.onsetSec + click.atSec;
        return { ...click, atSec: startSec + inLine + heldUntil(inLine) };
      }),
    );
  for (const [i, note] of line.notes.entries()) {
    const extra = heldUntil(note.onsetSec + note.durationSec) - heldUntil(note.onsetSec);
    const held = note.fermata ? extra : 0;
    const atSec = startSec + note.onsetSec + heldUntil(note.onsetSec);
    events.push({
      atSec,
      kind: "note",
      accent: false,
      durationSec: (held > 0 ? 1 : soundingShare(note)) * (note.durationSec + held),
      ...(accents && !isAccented(note) ? { beside: true as const } : {}),
      ...(note.slurred ? { slurred: true as const } : {}),
      ...(line.notes[i + 1]?.slurred ? { slursOn: true as const } : {}),
      eventId: note.eventId,
      ...(note.midi === null ? {} : { midi: note.midi }),
      ...(options.naming ? { text: noteName(note, options.naming) } : {}),
    });
    if (held > 0)
      events.push({ atSec: atSec + note.durationSec + held, kind: "cue", accent: false, text: "release" });
  }
  return {
    events: inOrder(events),
    startSec,
    totalSec: startSec + line.totalSec + heldUntil(line.totalSec),
  };
}

const isAccented = ({ articulations = [] }: SoundingNote) =>
  articulations.includes("accent") || articulations.includes("strong-accent");

/** How much of its written length a note sounds: half of it for staccato, three quarters for marcato (common practice, no published source). */
function soundingShare({ articulations = [], style }: SoundingNote): number {
  if (style === "short" || (!style && articulations.includes("staccato"))) return 0.5;
  return articulations.includes("strong-accent") ? 0.75 : 1;
}

/** Quarter notes that are counted off before a line. */
function countQuarters(line: Timeline, first: TimelineMeasure): number {
  const bar = first.durationQuarters + line.pickupOffsetQuarters;
  if (line.pickupOffsetQuarters === 0) return bar;
  return line.pickupOffsetQuarters + (line.pickupOffsetQuarters < bar / 2 ? bar : 0);
}

function startingNote(line: Timeline, durationSec: number): PlayAlongEvent[] {
  const note = line.notes.find((each) => each.midi !== null);
  if (!note?.written) return [];
  return [
    {
      atSec: 0,
      kind: "start",
      accent: false,
      midi: note.midi!,
      durationSec,
      text: pitchName(note.written, false),
    },
  ];
}

/** Seconds by which held notes and rests have moved everything at or after a time of the timeline. */
function holds(line: Timeline, times: number): (sec: number) => number {
  const held = times > 0 ? [...line.notes.filter((note) => note.fermata), ...line.heldRests] : [];
  const ends = held.map((note) => ({
    atSec: note.onsetSec + note.durationSec,
    extraSec: times * note.durationSec,
  }));
  return (sec) => ends.reduce((sum, hold) => (hold.atSec <= sec + 1e-9 ? sum + hold.extraSec : sum), 0);
}

/**
 * Clicks of a stretch of a bar, on its beats and between them.
 * @param from      quarters of the bar that are over
 * @param quarters  how long it lasts
 * @returns events from second 0
 */
export function barClicks(
  { barQuarters, beatQuarters, secPerQuarter }: TimelineMeasure,
  from: number,
  quarters: number,
  subdivisions: number,
): PlayAlongEvent[] {
  const step = beatQuarters / subdivisions;
  const events: PlayAlongEvent[] = [];
  for (let place = Math.ceil(from / step - 1e-9); place * step < from + quarters - 1e-9; place++)
    events.push({
      atSec: (place * step - from) * secPerQuarter,
      kind: place % subdivisions === 0 ? "click" : "subdivision",
      accent: Math.abs((place * step) % barQuarters) < 1e-9,
    });
  return events;
}

/** What a listener sees at a moment of a play-along. */
export interface Moment {
  /** The notehead that sounds, or is the player's to play. */
  eventId: string | null;
  /** Beats counted so far while the count-off runs, else 0. */
  count: number;
  /** The name that is called, or a cue such as "release". */
  text: string;
  phase: string;
}

/** @param sec  seconds from the beginning of the play-along */
export function momentAt(plan: PlayAlong, sec: number): Moment {
  const begun = plan.events.filter((event) => event.atSec <= sec);
  const note = begun.findLast(
    (event) => event.kind === "note" || event.kind === "cue" || event.kind === "start",
  );
  const phase = plan.phases?.findLast((each) => each.fromSec <= sec);
  const counts = begun.filter((event) => event.kind === "count" && event.atSec >= (phase?.fromSec ?? 0));
  const counting =
    counts.length > 0 && begun.findLast((event) => event.kind !== "subdivision")?.kind === "count";
  return {
    eventId: note?.eventId ?? null,
    count: counting ? counts.length : 0,
    text: (counting ? counts.at(-1)?.text : note?.text) ?? "",
    phase: phase?.label ?? "",
  };
}

export function inOrder(events: PlayAlongEvent[]): PlayAlongEvent[] {
  return events.sort((a, b) => a.atSec - b.atSec);
}
