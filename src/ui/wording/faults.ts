import type { Fault } from "../../core/playalong";

/** What is wrong with one of two renderings of a line. */
export const FAULT_NAMES: Record<Fault, string> = {
  "key-ignored": "the key signature is ignored",
  "rushed-slur": "slurs and eighths are rushed",
  "wavering-tone": "long notes waver",
  "clipped-notes": "notes are cut short",
};
