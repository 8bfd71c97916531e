import { z } from "zod";
import { PASSAGE_STATES, type Passage, type PassageState } from "../../core/plan";
import { FASTEST_BPM, SLOWEST_BPM } from "../../core/score";
import { tidied } from "../tidy";

const bar = z
  .number()
  .int("Bars are whole numbers.")
  .min(1, "Bars are counted from 1.")
  .max(2000, "At most 2000 bars.");

export const SavePiece = z
  .object({
    /** The version it was read at; null for a new one. */
    version: z.number().int().min(0).nullable(),
    title: tidied(160, "A title has at most 160 letters.", "Type the title."),
    composer: tidied(160, "A composer has at most 160 letters.").default(""),
    bars: bar,
    bpm: z
      .number()
      .int()
      .min(SLOWEST_BPM, `The slowest tempo is ${SLOWEST_BPM}.`)
      .max(FASTEST_BPM, `The fastest tempo is ${FASTEST_BPM}.`)
      .nullable(),
    lineId: z.uuid("This line is not on the shelf.").nullable(),
    passages: z
      .array(
        z
          .object({
            name: tidied(60, "A passage's name has at most 60 letters."),
            firstBar: bar,
            lastBar: bar,
            state: z.enum(PASSAGE_STATES),
          })
          .refine(({ firstBar, lastBar }) => firstBar <= lastBar, "A passage ends after it begins."),
      )
      .max(100, "At most 100 passages."),
  })
  .refine(({ bars, passages }) => passages.every(({ lastBar }) => lastBar <= bars), {
    message: "A passage reaches beyond the last bar.",
    path: ["passages"],
  });

export const AddAddress = z.object({
  title: tidied(160, "A title has at most 160 letters.", "Say what is heard there."),
  address: z
    .url({ protocol: /^https?$/, error: "Type a whole address, such as https://example.org/song." })
    .max(500, "This address is too long."),
});

export interface PieceView {
  id: string;
  version: number;
  title: string;
  composer: string;
  bars: number;
  bpm: number | null;
  lineId: string | null;
  passages: Passage[];
  states: Record<PassageState, number>;
}

export interface HandoutView {
  id: string;
  kind: "worksheet" | "listening";
  title: string;
  /** A sheet, a recording, or an address to follow. */
  form: "sheet" | "sound" | "address";
  address: string | null;
}

export interface PiecesView {
  pieces: PieceView[];
  handouts: HandoutView[];
  /** Lines with notes, as the parts of a piece. */
  lines: { id: string; name: string; bars: number }[];
}
