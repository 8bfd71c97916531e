import { z } from "zod";
import type { Fingering } from "../../core/music";

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

export interface LineSummary {
  id: string;
  number: number | null;
  page: number | null;
  title: string;
  introduces: string;
  concertKey: string;
  metre: string;
  bars: number;
  bpm: number;
  assigned: number;
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
  fingeringText: string | null;
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
  svg: string;
}

export interface LineDetail extends LineSummary {
  revisionId: string;
  composer: string | null;
  sourceName: string;
  notUnderstood: string[];
  unpitched: boolean;
}
