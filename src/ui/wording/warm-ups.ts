import {
  blockTitle,
  type CutShort,
  clockText,
  type Family,
  type FitChange,
  SHORT_CHANGEOVER_SEC,
} from "../../core/warmup";

/** What a kind of player does not play of a block, without saying who. */
export function cutShortReason(cut: CutShort): string {
  switch (cut.kind) {
    case "cycle":
      return cut.played === 0
        ? "nothing of this cycle lies in the range of the stage; they finger and count along."
        : `plays the first ${cut.played} of ${cut.of} steps, then the range of the stage ends.`;
    case "notes":
      return `rests on ${cut.names.join(", ")}, outside the range of the stage.`;
    case "beyond":
      return `rests on ${cut.missing} of ${cut.of} steps, beyond the ${cut.end} of the instrument's two years.`;
    case "slurs":
      return cut.played === 0
        ? "no such slur lies in the range of the stage; they finger along and breathe with the band."
        : `plays ${cut.played} of ${cut.of} steps, then the range ends.`;
  }
}

/** One thing that was taken away so that a warm-up fits, and what it saves. */
export function fitChangeSentence(change: FitChange): string {
  const what = change.block
    ? `${blockTitle(change.block)}: ${whatIsLeft(change)}`
    : `${SHORT_CHANGEOVER_SEC} seconds between blocks`;
  return `${what} (saves ${clockText(change.savedSec)})`;
}

function whatIsLeft({ kind, block }: FitChange): string {
  if (!block) return "";
  if (kind === "keys" && "keys" in block)
    return block.keys.length === 1 ? "one key" : `${block.keys.length} keys`;
  if (kind === "tempi" && block.tempo.kind === "ladder") return `only at ${block.tempo.bpms.join(", ")}`;
  if (kind === "steps" && "steps" in block) return `${block.steps} steps`;
  if (kind === "values" && "values" in block) return `only ${block.values.join(" and ")} notes`;
  const times =
    kind === "rounds" && "rounds" in block ? block.rounds : "repeats" in block ? block.repeats : 0;
  return times === 1 ? "once through" : `${times} times through`;
}

const LIPS_TIRE =
  "Lips tire here: rest as long as you played, leave out what is forced; small hands do not squeeze or over-reach.";

/** Said where sound comes out of headphones. */
export const HEADPHONES_CAUTION = "Headphones: so quiet that you still hear the room.";

/** Said where the act happens; never medical advice. Common practice, no published source. */
export const FAMILY_CAUTIONS: Partial<Record<Family, string>> = {
  breathing:
    "Seated. Whoever feels dizzy stops and breathes normally; your school's rules and a doctor come first.",
  "first-sounds":
    "Rest as much as you sound. Stop at pain or numbness; your school's rules and a professional come first.",
  "long-tones":
    "Lips: rest as much as you play. Stop at pain, numbness or dizziness; a professional comes first.",
  "range-steps":
    "Never force a note or press the mouthpiece; one semitone at a time. Braces, injury or illness: pause and ask.",
  slurs: "Lips: rest as much as you play; no pressing of the mouthpiece for the upper note.",
  "chromatic-descent": LIPS_TIRE,
  scales: LIPS_TIRE,
  "half-step-cycle": LIPS_TIRE,
  "chromatic-scale": LIPS_TIRE,
  articulation:
    "Loud attacks together are hard on ears in a small room: keep them at mezzo forte, keep distance, follow your school's rule for hearing.",
  tonguing:
    "Blocked air only for a few counts at a time: stop at once when dizzy or when ears press, and breathe normally.",
};

export const BALANCE_CAUTION =
  "Lips: rest as much as you play; stop at pain or numbness. Your school's rules and a professional come first.";
