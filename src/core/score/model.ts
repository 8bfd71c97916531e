import type { Clef, Interval, Pitch } from "../music";
import { type Fraction, fraction } from "./fraction";

/** Note values by name; "breve" to "32nd". */
export type NoteType = "breve" | "whole" | "half" | "quarter" | "eighth" | "16th" | "32nd";
export type Articulation = "staccato" | "accent" | "tenuto" | "strong-accent";
export type Dynamic = "pp" | "p" | "mp" | "mf" | "f" | "ff";

/** One notehead or rest. Its id survives import, transposition and engraving. */
export interface ScoreEvent {
  id: string;
  kind: "note" | "rest";
  /** Present on pitched notes only; an unpitched note (snare, claps) has none. */
  pitch?: Pitch;
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
  fermata?: true;
  breath?: true;
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
  name: string;
  clef: Clef;
  /** From written to sounding pitch. */
  soundsBy: Interval;
  measures: Measure[];
}

/** A line, warm-up or drill. The first part is the one that is played when there are several. */
export interface Score {
  title: string;
  composer?: string;
  parts: [Part, ...Part[]];
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
