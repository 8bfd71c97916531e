import { z } from "zod";
import { MOST_CRITERIA } from "../../core/progress";
import { FASTEST_BPM, SLOWEST_BPM } from "../../core/score";
import { tidied } from "../tidy";

const TEMPO = `A tempo is from ${SLOWEST_BPM} to ${FASTEST_BPM}.`;
export const ReviewTake = z.object({
  decision: z.enum(["accepted", "again"], { error: "Accept the take or ask for another." }),
  comment: tidied(1000, "A comment has at most 1000 letters.").default(""),
  /** Levels by criterion; checked against the rubric of the task. */
  forFamily: tidied(1000, "Words for the family have at most 1000 letters.").default(""),
  /** How the next take is asked for, where it is otherwise. */
  asks: z
    .object({
      goalBpm: z.number().int(TEMPO).min(SLOWEST_BPM, TEMPO).max(FASTEST_BPM, TEMPO).nullable(),
      bars: z
        .object({ firstBar: z.number().int().min(0).max(2000), lastBar: z.number().int().min(0).max(2000) })
        .refine(({ firstBar, lastBar }) => firstBar <= lastBar, "The last bar comes before the first.")
        .nullable(),
    })
    .nullable()
    .default(null),
  marks: z
    .record(z.string().max(40), z.number().int().min(1).max(6))
    .refine((marks) => Object.keys(marks).length <= MOST_CRITERIA, "That is more than can be marked."),
});

/** Clean takes that are accepted together, or taken back. */
export const AcceptTogether = z.object({
  takeIds: z.array(z.uuid()).min(1).max(500, "At most 500 takes are accepted together."),
  accepted: z.boolean(),
});

/** The task that a take was for in truth. */
export const MoveTake = z.object({ taskId: z.uuid() });

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
  need: z.enum(["ear", "asked", "unsure", "anew", "clean"]).nullable().default(null),
  after,
});
export type AskQueue = z.output<typeof AskQueue>;

/** Own words in place of a sentence of the bench; none give it back. */
export const SaveWords = z.object({
  place: z.string().regex(/^(advice|remedy) [a-z -]{1,50}$/, "There is no such sentence."),
  text: tidied(400, "A sentence has at most 400 letters."),
});
