import { z } from "zod";
import { tidied } from "../tidy";

const score = z.number().int().min(1).max(4);
export const ReviewTake = z.object({
  decision: z.enum(["accepted", "again"], { error: "Accept the take or ask for another." }),
  comment: tidied(1000, "A comment has at most 1000 letters.").default(""),
  marks: z
    .object({ notes: score, rhythm: score, tone: score, articulation: score, dynamics: score })
    .partial(),
});

const noteIndex = z.number().int().min(0).max(5000);
/** A director's word against the engine's, or taken back. */
export const OverruleTake = z.object({
  word: z.discriminatedUnion("about", [
    z.object({ about: z.literal("cause"), causeId: z.string().max(32) }),
    z.object({ about: z.literal("note"), noteIndex, word: z.enum(["right", "wrong"]) }),
    z.object({ about: z.literal("take") }),
  ]),
  on: z.boolean(),
});

/** Words at a note; with an id, in place of those that stand there. */
export const KeepPin = z.object({
  id: z.uuid().optional(),
  eventId: z.string().min(1).max(64),
  text: tidied(400, "A mark has at most 400 letters.").default(""),
});

const after = z.coerce.number().int().min(0).max(100_000).default(0);
export const AskHeard = z.object({ after });

const only = z.uuid().nullable().default(null);
/** Which part of the queue is looked at; everything, worst first, when nothing is said. */
export const AskQueue = z.object({
  order: z.enum(["worst", "line", "player", "due", "newest"]).default("worst"),
  group: only,
  line: only,
  instrument: z.string().max(40).nullable().default(null),
  need: z.enum(["ear", "asked"]).nullable().default(null),
  after,
});
export type AskQueue = z.output<typeof AskQueue>;

/** Own words in place of a sentence of the bench; none give it back. */
export const SaveWords = z.object({
  place: z.string().regex(/^(advice|remedy) [a-z -]{1,50}$/, "There is no such sentence."),
  text: tidied(400, "A sentence has at most 400 letters."),
});
