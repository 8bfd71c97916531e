import { z } from "zod";
import { INSTRUMENTS } from "../../core/music";
import { FIRST_NOTES, ROOM_WAYS, WALL_VIEWS } from "../../core/room";
import { DYNAMICS, FASTEST_BPM, SLOWEST_BPM } from "../../core/score";
import { tidied } from "../tidy";

const id = z.uuid();
const INSTRUMENT_IDS = INSTRUMENTS.map((instrument) => instrument.id);
/** A strip, or a block of the routine in it. */
const blockId = z.string().regex(/^[0-9a-f-]{36}(\/[\w.-]{1,36})?$/, "This block is not in the lesson.");
const bars = z.string().regex(/^[\d\s,;+–.to-]{0,40}$/i, "Type bars like 5-8.");
const instruments = z.array(z.enum(INSTRUMENT_IDS)).max(60);
const part = z.union([z.literal("concert"), z.enum(INSTRUMENT_IDS)]);
const naming = z.enum(["letters", "solfege", "numbers", "words", "count"]);
const bpm = z.number().min(SLOWEST_BPM).max(FASTEST_BPM);
const ramp = z.object({ by: z.number().int().min(1).max(20), to: bpm }).nullable();
const subdivisions = z.union([z.literal(1), z.literal(2), z.literal(3), z.literal(4)]);
const ms = z.number().int().min(0).max(9e12);

const Command = z.discriminatedUnion("kind", [
  z.object({
    kind: z.enum([
      "next",
      "back",
      "play",
      "stop",
      "clean",
      "drone",
      "dark",
      "concert",
      "fingerings",
      "loop",
      "skip",
      "timer-off",
    ]),
  }),
  z.object({ kind: z.enum(["go", "swap"]), block: blockId }),
  z.object({ kind: z.literal("extend"), minutes: z.number().int().min(-60).max(60) }),
  z.object({ kind: z.literal("tempo"), bpm }),
  z.object({ kind: z.literal("faster"), by: z.number().int().min(-40).max(40) }),
  z.object({ kind: z.literal("bars"), bars }),
  z.object({ kind: z.literal("way"), way: z.enum(ROOM_WAYS) }),
  z.object({ kind: z.literal("count"), bars: z.number().int().min(1).max(4) }),
  z.object({ kind: z.literal("subdivide"), by: subdivisions }),
  z.object({ kind: z.literal("first-note"), how: z.enum(FIRST_NOTES) }),
  z.object({ kind: z.literal("ramp"), ramp }),
  z.object({ kind: z.literal("view"), view: z.enum(WALL_VIEWS) }),
  z.object({ kind: z.literal("part"), part }),
  z.object({ kind: z.literal("naming"), naming }),
  z.object({ kind: z.enum(["rows", "call"]), instruments: instruments.nullable() }),
  z.object({ kind: z.literal("timer"), seconds: z.number().int().min(5).max(600) }),
]);

/** A phone's word to the wall. */
export const TellRoom = z.object({ id, command: Command });

const blockIds = z.array(blockId).max(80);
/** What the wall shows, kept so that a reload, a second wall and the phone find it. */
export const KeepRoomState = z.object({
  version: z.number().int().min(1).max(4e9),
  /** The last command the wall has followed. */
  heard: z.number().int().min(0).max(4e9),
  state: z.object({
    order: blockIds,
    at: z.union([blockId, z.literal("")]),
    done: blockIds,
    skipped: blockIds,
    begunAt: ms,
    blockAt: ms,
    added: z.record(blockId, z.number().min(-60).max(60)),
    playing: z.number().int().nullable(),
    runs: z.number().int().min(0).max(1e6),
    bars,
    bpm: z.record(blockId, bpm),
    way: z.enum(ROOM_WAYS),
    loop: z.boolean(),
    countBars: z.number().int().min(1).max(4),
    subdivisions,
    firstNote: z.enum(FIRST_NOTES),
    ramp,
    view: z.enum(WALL_VIEWS),
    part,
    naming,
    concert: z.boolean(),
    fingerings: z.boolean(),
    shown: instruments.nullable(),
    playingOnes: instruments.nullable(),
    timer: z.object({ untilMs: ms, seconds: z.number().int().min(5).max(600) }).nullable(),
    drone: z.boolean(),
    dark: z.boolean(),
  }),
});

/** So many taps go out at once; a lesson without network has fewer. */
export const MOST_ENTRIES = 200;

const Note = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("tag"),
    tag: tidied(40, "A word for what you hear has at most 40 letters.", "Say what you hear."),
    bars,
    instruments,
  }),
  z.object({ kind: z.literal("star"), bars, instruments }),
  z.object({ kind: z.literal("absent"), playerId: id }),
  z.object({
    kind: z.literal("hands"),
    question: tidied(80, "A question has at most 80 letters."),
    up: z.number().int().min(0).max(300),
  }),
  z.object({ kind: z.literal("dynamics"), dynamic: z.enum(DYNAMICS), bars, instruments }),
  z.object({ kind: z.literal("tempo"), bpm }),
]);

/** Taps of the log. */
export const NoteRoom = z.object({
  entries: z
    .array(z.object({ id, atMs: ms, blockId: blockId.nullable(), note: Note, undone: z.boolean() }))
    .min(1)
    .max(MOST_ENTRIES),
});

export const OpenRoom = z.object({ groupId: id, date: z.iso.date("Choose the day of the class.") });

export const JoinRoom = z.object({
  code: z.string().max(40, "This is no code of a lesson."),
});

/** A phone may join for a while, or no more. */
export const OpenToPhones = z.object({ open: z.boolean() });

/** Its players may do it alone, or no more. */
export const SetAtHome = z.object({ open: z.boolean() });

/** Strips of other lessons that are done in this one, in their order. */
export const BringIn = z.object({
  strips: z.array(id).max(40, "A lesson takes at most 40 blocks of others."),
});

export const SetGoal = z.object({ goal: tidied(160, "A goal is one sentence of at most 160 letters.") });

/** What becomes of a lesson when it is over. */
export const CloseRoom = z.object({
  /** Blocks of lines that count as taught to those who were there. */
  taught: z.array(blockId).max(80),
  /** Strips the class did not get to. */
  notReached: z.array(id).max(80),
  /** What was starred goes into the group's next class. */
  forNext: z.boolean(),
});

/** What the class did goes home. */
export const SendRoomHome = z.object({
  blocks: z.array(blockId).min(1, "Choose what goes home.").max(12),
  dueDate: z.iso.date("Choose the day it is due."),
});

/** Leave for somebody who stands in. */
export const MakePass = z
  .object({
    name: tidied(80, "A name has at most 80 letters.", "Say who stands in."),
    from: z.iso.date("Choose the first day."),
    to: z.iso.date("Choose the last day."),
  })
  .refine(({ from, to }) => from <= to, { error: "The last day comes before the first.", path: ["to"] });
