import { z } from "zod";
import { INSTRUMENTS, type Stage } from "../../core/music";
import type { KnownThing, StageSuggestion } from "../../core/progress";

const id = z.uuid("This is not a known id.");
const day = z.iso.date("Choose the day it was taught.");
const instrumentId = z
  .string()
  .refine((text) => INSTRUMENTS.some((each) => each.id === text), "There is no such instrument.");

export const ThingInput = z.object({
  kind: z.enum(["note", "rhythm", "sign", "technique"]),
  thing: z.string().min(1).max(60),
});

/** A line is marked as taught: everything in it that is new to each player. */
export const TeachLine = z.object({
  groupId: id,
  /** Only players of these instruments: a section. */
  instruments: z.array(instrumentId).max(40).default([]),
  on: day,
});

/** Single things are marked as taught to a group, a section of it, or one player. */
export const TeachThings = z
  .object({
    groupId: id.nullable().default(null),
    playerId: id.nullable().default(null),
    /** The instrument a written note is for; null for rhythms and signs of everybody. */
    instrumentId: instrumentId.nullable(),
    things: z.array(ThingInput).min(1, "Choose what was taught.").max(60),
    on: day,
  })
  .refine((input) => input.groupId || input.playerId, "Choose to whom it was taught.")
  .refine(
    (input) => input.instrumentId !== null || input.things.every(({ kind }) => kind !== "note"),
    "A written note is taught to one instrument.",
  );

/** A concert note is taught to a group: each instrument learns its own written note. */
export const TeachConcert = z.object({
  groupId: id,
  /** Pitch class, C is 0. */
  pitchClass: z.number().int().min(0).max(11),
  on: day,
});

/** What is taken away from what a player knows, or exempt from judgement. */
export const OfPlayer = z.object({ instrumentId, ...ThingInput.shape });
export const Exempt = z.object({
  instrumentId,
  writtenMidi: z.number().int().min(0).max(127),
  exempt: z.boolean(),
});

/** A known thing as a page shows it. */
export interface ShownThing extends KnownThing {
  /** "B♭4", "dotted half", "key of F major". */
  name: string;
  /** How a note sounds, "A♭4"; null for other things. */
  concert: string | null;
}

/** What a player knows on one instrument, for a page. */
export interface InstrumentKnowledge {
  instrumentId: string;
  name: string;
  stage: Stage;
  /** Held from and until; null while it is held. */
  from: string;
  to: string | null;
  things: ShownThing[];
  /** Written notes of the stage's range, MIDI numbers; null for an instrument without pitch. */
  range: { low: number; high: number } | null;
  /** Every written note of the widest range by name, for the ladder. */
  ladder: { midi: number; name: string; concert: string }[];
  suggestion: StageSuggestion | null;
}
