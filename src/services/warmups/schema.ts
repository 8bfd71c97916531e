import { z } from "zod";
import { INSTRUMENTS, STAGES, type Stage } from "../../core/music";
import { type Block, LIMITS, MOST_STEPS, ROUTINE_LIMITS, type Routine } from "../../core/warmup";
import { GiveOut } from "../giving/schema";
import { tidied } from "../tidy";

const number = (name: keyof typeof LIMITS, words: string, most: number = LIMITS[name][1]) => {
  const [least] = LIMITS[name];
  const sentence = `${words}: a whole number from ${least} to ${most}.`;
  return z.number({ error: sentence }).int(sentence).min(least, sentence).max(most, sentence);
};
const bpm = number("bpm", "Tempo in beats a minute");
const rounds = number("rounds", "Rounds");
const countsOn = number("countsOn", "Counts on");
const countsOff = number("countsOff", "Counts off");
const value = z.enum(["whole", "half", "quarter", "eighth", "16th"]);
const values = z.array(value).min(1, "Choose at least one note value.").max(5);
const tonguing = z.enum(["tongued", "slurred", "tongued-then-slurred", "slurred-then-tongued"]);
const direction = z.enum(["up", "down", "up-and-down"]);
const upOrDown = z.enum(["up", "down"]);
const fifths = z.number().int().min(-7).max(7);
const note = z.string().regex(/^[A-G](b|#)?$/, "A note is a letter such as F or Bb.");

const about = z.object({
  id: z.string().min(1).max(36),
  title: tidied(80, "A heading has at most 80 letters."),
  tempo: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("fixed"), bpm }),
    z.object({
      kind: z.literal("ladder"),
      bpms: z.array(bpm).min(1, "A tempo ladder has at least one tempo, such as 80.").max(6),
    }),
    z.object({ kind: z.literal("piece") }),
  ]),
  cues: z.boolean(),
  mutedFor: z.array(z.uuid()).max(50),
});
const family = <F extends string, S extends z.ZodRawShape>(name: F, shape: S) =>
  about.extend({ family: z.literal(name), ...shape });

/** One block with the settings of its family. */
const BlockSchema = z.discriminatedUnion("family", [
  family("breathing", {
    waitCounts: number("waitCounts", "Counts to wait"),
    inCounts: number("inCounts", "Counts to breathe in"),
    outCounts: number("outCounts", "Counts to blow"),
    rounds,
  }),
  family("first-sounds", { sound: z.enum(["steady", "siren", "short"]), countsOn, countsOff, rounds }),
  family("long-tones", {
    fifths,
    degrees: z.array(z.number().int().min(-7).max(15)).min(1, "Choose at least one scale degree.").max(16),
    countsOn,
    countsOff,
    others: z.enum(["rest", "again"]),
    rounds,
  }),
  family("range-steps", {
    direction: upOrDown,
    steps: number("steps", "Steps", MOST_STEPS["range-steps"]),
    countsOn,
    countsOff,
  }),
  family("chromatic-descent", { from: note, steps: number("steps", "Steps"), value, tonguing }),
  family("slurs", {
    direction: upOrDown,
    steps: number("steps", "Steps", MOST_STEPS.slurs),
    values,
    countsOff,
  }),
  family("articulation", {
    note,
    signs: z
      .array(z.enum(["plain", "accent", "staccato", "marcato", "tenuto"]))
      .min(1, "Choose at least one style of attack.")
      .max(5),
    value,
    countsEach: number("countsEach", "Counts for each style"),
    rounds,
  }),
  family("tonguing", {
    note,
    drill: z.enum(["one-breath", "stopped-air", "released-air"]),
    values,
    rounds,
  }),
  family("scales", {
    keys: z.array(fifths).min(1, "Scales need at least one key, such as concert B♭.").max(12),
    pattern: z.enum(["major", "five-note", "thirds", "1-5-1", "falling-intervals"]),
    octaves: z.union([z.literal(1), z.literal(2)]),
    rhythm: z.enum(["half", "quarter", "eighth", "quarter-and-eighth"]),
    direction,
    tonguing,
    countsOff,
    repeats: number("repeats", "Times through"),
  }),
  family("half-step-cycle", {
    from: note,
    pattern: z.enum(["1-5-1", "falling-intervals"]),
    steps: number("steps", "Steps"),
    direction: upOrDown,
    tonguing,
    countsOff,
  }),
  family("chromatic-scale", {
    from: note,
    octaves: z.union([z.literal(1), z.literal(2)]),
    value,
    direction,
    tonguing,
  }),
  family("chorale", { fifths, voices: z.enum(["unison", "harmony"]), rounds }),
]) satisfies z.ZodType<Block>;

const seconds = (least: number, most: number, words: string) => {
  const sentence = `${words}: ${least} to ${most} seconds.`;
  return z.number({ error: sentence }).min(least, sentence).max(most, sentence);
};

export const RoutineContent = z.object({
  title: tidied(160, "A name has at most 160 letters.", "Give the routine a name."),
  blocks: z
    .array(BlockSchema)
    .max(ROUTINE_LIMITS.blocks, `A routine has at most ${ROUTINE_LIMITS.blocks} blocks.`),
  changeoverSec: seconds(...ROUTINE_LIMITS.changeoverSec, "Between blocks"),
  budgetSec: seconds(...ROUTINE_LIMITS.budgetSec, "Time for the routine"),
  pieceBpm: bpm,
}) satisfies z.ZodType<Routine>;

export const SaveRoutine = z.object({
  /** The version that was opened; a newer one in between refuses the change. */
  basedOn: z.number().int().min(1),
  content: RoutineContent,
});

export const NewRoutine = z.object({ content: RoutineContent });

export const SetRemoved = z.object({ removed: z.boolean() });

export const PreviewBlock = z.object({
  block: BlockSchema,
  instrumentId: z.enum(INSTRUMENTS.map(({ id }) => id) as [string, ...string[]]),
  stage: z.enum(STAGES),
  variant: z
    .string()
    .regex(/^[a-z0-9-]{1,32}$/, "This instrument is not built that way.")
    .nullable()
    .default(null),
  pieceBpm: bpm,
});

export const GiveBlock = GiveOut.extend({ blockId: z.string().min(1).max(36) });

export interface RoutineSummary {
  id: string;
  title: string;
  blocks: number;
  minutes: string;
  version: number;
  changed: string;
}

/** One instrument and stage of the band, and the groups its players are in. */
export interface BandSeat {
  instrumentId: string;
  stage: Stage;
  variant: string | null;
  groupIds: string[];
  players: number;
  /** What they know: written notes as MIDI numbers, rhythms and signs by name. */
  known: { notes: number[]; rhythms: string[]; signs: string[] };
}

export interface RoutineDetail {
  id: string;
  version: number;
  content: Routine;
  /** Newest first. */
  versions: { number: number; at: string; title: string; blocks: number }[];
}
