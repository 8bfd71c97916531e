import { z } from "zod";
import type { Fingering, Stage } from "../../core/music";
import type { BarRelation, Difficulty, Form, Snag } from "../../core/score";

/** A library file: its bytes travel as the body, the rest beside it. */
export const ImportLine = z.object({
  fileName: z.string().trim().min(1, "The file has no name.").max(200),
  title: z.string().trim().max(160).optional(),
  number: z.coerce
    .number({ error: "The number is a whole number from 1 to 999." })
    .int("The number is a whole number from 1 to 999.")
    .min(1, "The number is a whole number from 1 to 999.")
    .max(999, "The number is a whole number from 1 to 999.")
    .optional(),
  page: z.coerce
    .number({ error: "The page is a whole number from 1 to 999." })
    .int("The page is a whole number from 1 to 999.")
    .min(1, "The page is a whole number from 1 to 999.")
    .max(999, "The page is a whole number from 1 to 999.")
    .optional(),
  introduces: z.string().trim().max(200).optional(),
});

/** Largest library file taken, bytes. */
export const LARGEST_SCORE = 20_000_000;

/** What a line is, whoever looks at it. */
export interface LineOutline {
  id: string;
  number: number | null;
  page: number | null;
  title: string;
  introduces: string;
  concertKey: string;
  metre: string;
  bars: number;
  bpm: number;
}

/** A line among others on the shelf, with what a director chooses by. */
export interface LineSummary extends LineOutline {
  /** How often it was given. */
  assigned: number;
  rhythms: string[];
  /** Written names of notes that are new for somebody in the band. */
  bringsNew: string[];
  /** Players who meet no new note or rhythm and nothing out of range, of those who can play it. */
  readyPlayers: number;
  players: number;
  /** Instrument families all of whose players are ready. */
  readyFamilies: string[];
  /** Instrument families that have somebody to play it. */
  familiesAsked: string[];
  crossesBreak: boolean;
}

/** A written note that is new at the player's stage, and how it is played. */
export interface NewNote {
  name: string;
  /** Sounding name, without the octave. */
  concert: string;
  /** Height on the staff in letter steps; the bottom line is 0. */
  staffPosition: number;
  alter: number;
  /** First choice; null for instruments without fingerings. */
  fingering: Fingering | null;
  /** The fingering in letters and numbers, or what to do where there is none. */
  fingeringText: string;
  /** What a brass player should expect of its intonation; null where it lies well. */
  tendency: string | null;
  /** False where the chart was written from memory and no director has confirmed it. */
  verified: boolean;
}

export interface PartView {
  instrumentId: string;
  instrumentName: string;
  key: string;
  octaveShift: number;
  outOfRange: string[];
  newNotes: NewNote[];
  newRhythms: string[];
  newSigns: string[];
  snags: Snag[];
  /** Null for the line in concert pitch. */
  difficulty: Difficulty | null;
  svg: string;
}

/** A part with the name of who gets it. */
export interface PrintedPart {
  playerName: string;
  part: PartView;
}

/** How ready the players of one instrument and stage are for a line. */
export interface ReadinessRow {
  instrumentId: string;
  instrument: string;
  stage: Stage;
  players: number;
  newNotes: string[];
  newRhythms: string[];
  newSigns: string[];
  outOfRange: string[];
  /** The gravest snag, in words. */
  snag: string | null;
  snags: number;
  difficulty: number;
}

export interface LineDetail extends LineOutline {
  revisionId: string;
  composer: string | null;
  sourceName: string;
  notUnderstood: string[];
  unpitched: boolean;
  /** Which bars are the same, and the form where the bars divide into phrases. */
  barRelations: BarRelation[];
  form: Form | null;
}
