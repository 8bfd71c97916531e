import { z } from "zod";
import { type Clef, type Fingering, type FingeringCheck, INSTRUMENTS } from "../../core/music";
import type { BandAnswer, Ladder } from "../../core/ready";
import {
  type BarRelation,
  type Difficulty,
  DYNAMICS,
  FASTEST_BPM,
  type Form,
  type LineOutlineFacts,
  type PartUse,
  PENCIL_KINDS,
  type PencilKind,
  SLOWEST_BPM,
  type Snag,
} from "../../core/score";
import type { LineHead } from "../../data";
import { tidied } from "../tidy";

export type { LineHead } from "../../data";

const INSTRUMENT_IDS = INSTRUMENTS.map((each) => each.id) as [string, ...string[]];

/** A library file: its bytes travel as the body, the rest beside it. */
const PartUses = z
  .array(
    z.tuple([
      z.string().max(80),
      z.union([
        z.enum(["line", "part", "leave"]),
        z.object({
          instrumentId: z.string().refine((id) => INSTRUMENTS.some((each) => each.id === id)),
        }),
      ]),
    ]),
  )
  .max(60);

export const ImportLine = z.object({
  fileName: tidied(200, "The file's name has at most 200 letters.", "The file has no name."),
  title: tidied(160, "A title has at most 160 letters.").optional(),
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
  introduces: tidied(200, "At most 200 letters.").optional(),
  book: tidied(160, "A book's title has at most 160 letters.").optional(),
  /** Which note of a chord is kept. */
  chords: z.enum(["top", "bottom"]).optional(),
  /** What becomes of each part of a full score, as JSON: pairs of a part's id and its use. */
  uses: z
    .string()
    .max(20_000)
    .transform((text, context) => {
      try {
        return PartUses.parse(JSON.parse(text));
      } catch {
        context.addIssue({ code: "custom", message: "What becomes of the parts could not be read." });
        return z.NEVER;
      }
    })
    .optional(),
});

export const LookAtFile = ImportLine.pick({ fileName: true });

/** What a file holds, before anything of it is stored. */
export interface FileLook {
  title: string;
  parts: {
    id: string;
    name: string;
    notes: number;
    bars: number;
    /** Written names, lowest and highest; null for drums. */
    range: [string, string] | null;
    /** The first is the line that everybody reads. */
    use: PartUse;
  }[];
  /** Whether some chord loses notes, so that it matters which is kept. */
  hasChords: boolean;
  notUnderstood: string[];
  /** On the shelf already, by its notes or by the file's name. */
  before: { lineId: string; title: string; sameNotes: boolean } | null;
}

const optionalNumber = (name: string) =>
  z
    .number({ error: `The ${name} is a whole number from 1 to 999.` })
    .int(`The ${name} is a whole number from 1 to 999.`)
    .min(1, `The ${name} is a whole number from 1 to 999.`)
    .max(999, `The ${name} is a whole number from 1 to 999.`)
    .nullable();

/** What stands about a line, apart from its notes. */
export const LineAbout = z.object({
  title: tidied(160, "A title has at most 160 letters.", "A line has a title."),
  number: optionalNumber("number"),
  page: optionalNumber("page"),
  introduces: tidied(200, "At most 200 letters.").default(""),
  book: tidied(160, "A book's title has at most 160 letters.").default(""),
  teachingPlace: optionalNumber("place in your order").default(null),
  teachingReason: tidied(200, "A reason has at most 200 letters.").default(""),
});

/** A line whose notes stand in a book only. */
export const CatalogueLine = LineAbout.extend({
  fifths: z.number().int().min(-7).max(7),
  beats: z.number().int().min(1, "A bar has at least one beat.").max(12, "A bar has at most 12 beats."),
  beatType: z.union([z.literal(2), z.literal(4), z.literal(8)]),
  bars: z
    .number({ error: "Say how many bars the line has." })
    .int("Bars are counted in whole numbers.")
    .min(1, "A line has at least one bar.")
    .max(200, "A line has at most 200 bars."),
  bpm: z
    .number({ error: `The tempo is a number from ${SLOWEST_BPM} to ${FASTEST_BPM}.` })
    .min(SLOWEST_BPM, `The slowest tempo is ${SLOWEST_BPM}.`)
    .max(FASTEST_BPM, `The fastest tempo is ${FASTEST_BPM}.`),
  unpitched: z.boolean().default(false),
});

/** Who plays a part and what it is called; its notes travel as the body. */
export const SavePart = z.object({
  basedOn: z.uuid(),
  name: tidied(60, "A part's name has at most 60 letters.", "Give the part a name.").optional(),
  instruments: z
    .string()
    .transform((ids) => ids.split(",").filter(Boolean))
    .pipe(z.array(z.enum(INSTRUMENT_IDS)))
    .optional(),
});

const pitchText = z.string().regex(/^[A-G](b|#)?[0-9]$/, "Write a note like Bb3 or F#4.");
export const SetOverride = z.object({
  /** Null goes back to the octave that fits the stage. */
  octave: z
    .number()
    .int()
    .min(-4, "A part is moved by four octaves at most.")
    .max(4, "A part is moved by four octaves at most.")
    .nullable()
    .optional(),
  /** Written notes by event id; null puts the line's own note back. */
  substitutes: z.record(z.string().max(64), pitchText.nullable()).optional(),
});

export const SetFingerings = z.object({
  notes: z
    .array(
      z.object({
        midi: z.number().int().min(12).max(120),
        text: z.string().trim().max(60, "A fingering has at most 60 signs.").nullable(),
      }),
    )
    .min(1, "Choose a note.")
    .max(60),
});

export const WritePencil = z
  .object({
    eventId: z.string().regex(/^[\w.-]{1,64}$/, "This note does not exist in the line."),
    instrumentId: z.enum(INSTRUMENT_IDS, { error: "There is no such instrument." }).nullable().optional(),
    kind: z.enum(PENCIL_KINDS),
    text: tidied(60, "A mark has at most 60 letters."),
    shared: z.boolean().default(false),
  })
  .refine((mark) => mark.kind === "breath" || mark.text !== "", {
    error: "Write what should stand there.",
    path: ["text"],
  })
  .refine(({ kind, text }) => kind !== "dynamic" || (DYNAMICS as readonly string[]).includes(text), {
    error: "Choose a dynamic from pp to ff.",
    path: ["text"],
  });

/** Off the shelf, or back on it. */
export const SetRemoved = z.object({ removed: z.boolean() });

export const SetBars = z.object({
  bars: z.array(z.number().min(0).max(3600)).max(500, "At most 500 bars."),
});

export const ShelfFilter = z.object({
  text: z.string().max(200),
  key: z.string().max(40),
  metre: z.string().max(10),
  without: z.string().max(40),
  ready: z.string().max(40),
  brings: z.string().max(10),
  crosses: z.boolean(),
  like: z.string().max(36),
  book: z.string().max(160),
});
export type ShelfFilter = z.output<typeof ShelfFilter>;
export const SaveView = z.object({
  name: tidied(60, "A name has at most 60 letters.", "Give the view a name."),
  filter: ShelfFilter,
});
export interface SavedViewRow {
  id: string;
  name: string;
  filter: ShelfFilter;
}

export interface PencilView {
  id: string;
  eventId: string;
  /** Null is for every instrument. */
  instrumentId: string | null;
  kind: PencilKind;
  text: string;
  shared: boolean;
  author: string;
  own: boolean;
}

export interface LineRecordingView {
  id: string;
  name: string;
  /** Second at which each bar begins. */
  bars: number[];
}

/** Largest library file taken, bytes. */
export const LARGEST_SCORE = 20_000_000;

/** What a line is, whoever looks at it. */
export interface LineOutline extends LineHead, LineOutlineFacts {}

/** A line that cannot be shown, with the reason: it can be taken off the shelf. */
export interface BrokenLine extends LineHead {
  assigned: number;
  reason: string;
}

/** A line off the shelf. */
export interface ArchivedLine extends LineHead {
  /** It was given before: it stays in the archive, with what players sent. */
  given: boolean;
}

export interface ShelfView {
  lines: LineSummary[];
  broken: BrokenLine[];
  /** How many lines are archived. */
  archived: number;
}

/** A line among others on the shelf, with what a director chooses by. */
export interface LineSummary extends LineOutline, BandAnswer {
  /** How often it was given. */
  assigned: number;
  rhythms: string[];
  /** How hard it is for anybody, the snags of single instruments left out; null for a catalogued line. */
  difficulty: number | null;
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
  clef: Clef;
  /** What speaks for the fingering; nothing where nobody and nothing has checked it, or there is none. */
  checkedBy: FingeringCheck[];
  /** When another fingering is the better one. */
  otherwise: string | null;
}

export interface PartView {
  instrumentId: string;
  instrumentName: string;
  key: string;
  octaveShift: number;
  /** Noteheads after which a breath is proposed, where a phrase is longer than one. */
  breaths: string[];
  octaveBy: "rule" | "director";
  /** The part of the line it was taken from. */
  partId: string;
  partName: string;
  /** It was written for this instrument. */
  ownPart: boolean;
  /** Notes the director replaced for this instrument, written names. */
  substituted: { eventId: string; measure: string; from: string; to: string }[];
  outOfRange: string[];
  newNotes: NewNote[];
  newRhythms: string[];
  newSigns: string[];
  snags: Snag[];
  /** Null for the line in concert pitch. */
  difficulty: Difficulty | null;
  /** Every note in written order, for choosing one: written name, or "stroke". */
  noteList: { eventId: string; measure: string; beat: number; name: string }[];
  /** Null in concert pitch and for unpitched instruments. */
  ladder: Ladder | null;
  /** Empty for a catalogued line. */
  svg: string;
}

export interface LineDetail extends LineOutline {
  archived: boolean;
  /** Somebody was given it, now or before. */
  given: boolean;
  revisionId: string;
  /** Every part of the line, the first one being the line itself. */
  parts: { id: string; name: string; forInstruments: string[] }[];
  composer: string | null;
  sourceName: string;
  notUnderstood: string[];
  unpitched: boolean;
  /** Which bars are the same, and the form where the bars divide into phrases. */
  barRelations: BarRelation[];
  form: Form | null;
}

/** An instrument as a director looks it up: facts, cautions, and every note of two years. */
export interface ChartView {
  instrumentId: string;
  instrumentName: string;
  clef: Clef;
  build: string | null;
  builds: { id: string; name: string }[];
  overblows: string;
  voice: string;
  tuningNote: string | null;
  typicalSnags: string[];
  cautions: string[];
  /** How a fingering is typed. */
  example: string;
  notes: (NewNote & { midi: number; alternates: string[]; set: boolean })[];
}
