import { z } from "zod";
import { MOST_FACTS_AT_ONCE } from "../../core/practice";
import { tidied } from "../tidy";

const id = z.uuid("This is not a known id.");

export const BeginUpload = z.object({
  id,
  taskId: id,
  bytes: z.number().int().min(1, "The recording is empty."),
  sha256: z.string().regex(/^[0-9a-f]{64}$/, "The checksum is not a SHA-256."),
  recordedAt: z.iso.datetime(),
  /** What the device left out of the recording. */
  gaps: z
    .array(
      z
        .object({ fromSec: z.number().min(0).max(3600), toSec: z.number().min(0).max(3600) })
        .refine((gap) => gap.toSec > gap.fromSec, "A gap ends after it begins."),
    )
    .max(500)
    .default([]),
});

const short = z.string().min(1).max(64);
const instrumentId = z.string().min(1).max(32);
const about = {
  id,
  at: z.iso.datetime(),
  day: z.iso.date().optional(),
  seconds: z.number().int().min(0).max(3600),
};
const ofLine = { ...about, taskId: id, leg: short };
const beside = { ...about, taskId: id.nullish() };

/** One thing a player did, as a device tells it. */
export const FactInput = z.discriminatedUnion("kind", [
  z.object({
    ...ofLine,
    kind: z.literal("round"),
    place: short,
    bpm: z.number().int().min(10).max(400),
    outcome: z.enum(["clean", "nearly", "poor"]),
  }),
  z.object({ ...ofLine, kind: z.literal("did") }),
  z.object({ ...ofLine, kind: z.literal("left") }),
  z.object({ ...ofLine, kind: z.literal("went") }),
  z.object({ ...ofLine, kind: z.literal("offered") }),
  z.object({
    ...beside,
    kind: z.literal("card"),
    card: short,
    rating: z.enum(["again", "hard", "good", "easy"]),
  }),
  z.object({
    ...beside,
    kind: z.literal("tone"),
    instrumentId,
    note: short,
    heldSec: z.number().min(0).max(120),
    pitchSdCents: z.number().min(0).max(2000),
    levelSdDb: z.number().min(0).max(100),
    brightnessSpread: z.number().min(0).max(100),
  }),
  z.object({
    ...beside,
    kind: z.literal("change"),
    from: short,
    to: short,
    gap: z.number().int().min(0).max(20),
  }),
  z.object({ ...beside, kind: z.literal("range"), instrumentId, note: short, way: z.enum(["up", "down"]) }),
  z.object({
    ...beside,
    kind: z.literal("counting"),
    activity: short,
    right: z.number().int().min(0).max(1000),
    of: z.number().int().min(1).max(1000),
  }),
  z.object({
    ...beside,
    kind: z.literal("own"),
    minutes: z.number().int().min(1, "Write at least a minute.").max(240, "At most four hours at once."),
    text: tidied(120, "A line of the log has at most 120 letters."),
  }),
  z.object({ ...beside, kind: z.literal("goal"), text: tidied(120, "A goal has at most 120 letters.") }),
  z.object({
    ...beside,
    kind: z.literal("rating"),
    rating: z.union([z.literal(1), z.literal(2), z.literal(3)]),
  }),
  z.object({
    ...beside,
    kind: z.literal("tool"),
    tool: z.enum(["tuner", "metronome", "chart", "set-up", "sound"]),
  }),
]);

export const KeepPractice = z.object({
  /** Who practised: another child may have signed in at the device meanwhile. */
  playerId: id,
  /** The device's own clock when it sends. */
  sentAt: z.iso.datetime(),
  facts: z.array(FactInput).min(1).max(MOST_FACTS_AT_ONCE),
});

/** The next line, by own choice. */
export const ChooseLine = z.object({ lineId: id });

export const SavePreferences = z.object({ large: z.boolean(), leftHanded: z.boolean() });

export const AskQuestion = z.object({
  id,
  kind: z.enum(["question", "please-play"]),
  measure: tidied(16, "A bar has at most 16 letters.").nullable(),
  text: tidied(400, "A question has at most 400 letters."),
});

export const AnswerQuestion = z.object({
  answer: tidied(800, "An answer has at most 800 letters.", "Write an answer first."),
});
