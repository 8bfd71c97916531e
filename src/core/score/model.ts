import type { Clef, Interval, Letter, Pitch } from "../music";
import { type Fraction, fraction } from "./fraction";

/** Note values by name; "breve" to "32nd". */
export type NoteType = "breve" | "whole" | "half" | "quarter" | "eighth" | "16th" | "32nd";
export type Articulation = "staccato" | "accent" | "tenuto" | "strong-accent";
/** How long notes are held, where a director asks for it: short, joined without a gap, or with ends that are held and taper. */
export const STYLES = ["short", "smooth", "tapered"] as const;
export type Style = (typeof STYLES)[number];
/** From soft to loud. */
export const DYNAMICS = ["pp", "p", "mp", "mf", "f", "ff"] as const;
export type Dynamic = (typeof DYNAMICS)[number];

/** One notehead or rest. Its id survives import, transposition and engraving. */
export interface ScoreEvent {
  id: string;
  kind: "note" | "rest";
  /** Present on pitched notes only; an unpitched note (snare, claps) has none. */
  pitch?: Pitch;
  /** Where an unpitched note stands on its staff and with which head, when it is not a plain note on one line. */
  drum?: { step: Letter; octave: number; head?: "x" | "slash" | "triangle" | "diamond" };
  /** Sounding length in quarter notes; "0" for grace notes. */
  duration: Fraction;
  type: NoteType;
  dots: number;
  grace?: true;
  /** Tied from the event before, into the event after. */
  tieStop?: true;
  tieStart?: true;
  slurStart?: number;
  slurStop?: number;
  tuplet?: { actual: number; normal: number; start?: true; stop?: true };
  articulations?: Articulation[];
  dynamic?: Dynamic;
  /** A hairpin opens under this note, or ends with it. */
  hairpinStart?: "crescendo" | "diminuendo";
  hairpinStop?: true;
  fermata?: true;
  breath?: true;
  /** A word or syllable; one that goes on in the next note ends in "-". */
  lyric?: string;
  wholeMeasure?: true;
}

export interface Measure {
  id: string;
  /** The printed number; a pickup is "0". */
  number: string;
  /** Present where it is set or changes. */
  key?: { fifths: number; mode: "major" | "minor" };
  time?: { beats: number; beatType: number };
  tempo?: { words?: string; beatQuarters: Fraction; bpm: number };
  /** Tempo or character words without a mark: "rit.", "gently". */
  words?: string;
  /** How its notes are held, where that was asked for. */
  style?: Style;
  /** A pickup or the short bar that completes it: not counted against the metre. */
  implicit?: true;
  repeatStart?: true;
  /** Played this many times in all; 2 when the sign says nothing else. */
  repeatEnd?: { times: number };
  /** The passes on which this measure is played (endings). */
  ending?: { passes: number[]; start?: true; stop?: true };
  segno?: true;
  coda?: true;
  fine?: true;
  toCoda?: true;
  jump?: "da-capo" | "dal-segno";
  rehearsal?: string;
  doubleBar?: true;
  events: ScoreEvent[];
}

export interface Part {
  id: string;
  /** "First", "Second", "Bass line", "Easy", or an instrument. */
  name: string;
  /** Instruments that play this part where nothing else is asked; the others play the first one. */
  forInstruments?: string[];
  /** Written for one kind of player, in its own key, octave and clef (or a rhythm for everybody): nothing is moved. */
  asWritten?: true;
  clef: Clef;
  /** From written to sounding pitch. */
  soundsBy: Interval;
  measures: Measure[];
}

/** What a director changed on purpose in the derived part of one instrument. */
export interface PartOverride {
  /** Octaves beyond the plain transposition, instead of the one that would be chosen. */
  octave?: number;
  /** Written pitches that stand for notes of the line, by event id. */
  substitutes?: Record<string, Pitch>;
}

/** A line, warm-up or drill. The first part is the one that is played when there are several. */
export interface Score {
  title: string;
  composer?: string;
  parts: [Part, ...Part[]];
  /** What it is for where it is no line of a book: how a take is heard, and who plays it. */
  purpose?: Purpose;
  /** By instrument id. */
  overrides?: Record<string, PartOverride>;
  /** Repeats are not taken: every bar once, last endings only. */
  playOnce?: true;
  /** The notes stand in a book only: the bars here are empty and say no more than how long the line is. */
  catalogued?: true;
}

export type Purpose =
  | { kind: "warm-up"; family: string }
  /** Bars by name, a bar a measure; the counting system shown under them, if any. */
  | { kind: "counting"; forms: string[]; system: string | null };

/** A line for drums alone. Counting and air are on one line too, but everybody takes part. */
export function forDrumsOnly(score: Score): boolean {
  return score.parts[0].clef === "percussion" && !score.purpose;
}

/** Quarter notes in a full bar of a metre. */
export function barQuarters(time: { beats: number; beatType: number }): Fraction {
  return fraction(time.beats * 4, time.beatType);
}

/** The beat a metre is counted in, in quarter notes: three of the lower number in 6/8, 9/8 and 12/8, else one. */
export function beatOfMetre(time: { beats: number; beatType: number }): Fraction {
  const compound = time.beatType >= 8 && time.beats > 3 && time.beats % 3 === 0;
  return fraction(compound ? 12 : 4, time.beatType);
}
