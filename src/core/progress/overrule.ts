import type { Assessment, NoteVerdict } from "../listen";
import type { Score } from "../score";
import { type Cause, causesOf } from "./causes";

/** A director's word against the engine's, about a cause it told, a note, or the whole take. */
export type Overrule =
  /** It is not so, in any of its places. */
  | { about: "cause"; causeId: string }
  /** A note is right, or was heard wrong where the engine said nothing. */
  | { about: "note"; noteIndex: number; word: "right" | "wrong" }
  /** What the engine heard is set aside as a whole. */
  | { about: "take" };

/** What a word is about, as text: there is one word about each thing, and the newer replaces the older. */
export function aboutOf(word: Overrule): string {
  return word.about === "cause"
    ? `cause ${word.causeId}`
    : word.about === "note"
      ? `note ${word.noteIndex}`
      : "take";
}

/**
 * An assessment with the director's words in place of the engine's. The assessment itself is left as it is.
 *
 * @param part  what was played, with the event ids of the assessment
 * @returns null where the whole take was set aside
 */
export function overruled(
  assessment: Assessment,
  part: Score,
  words: readonly Overrule[],
): Assessment | null {
  if (words.length === 0) return assessment;
  if (words.some(({ about }) => about === "take")) return null;
  const dropped = new Set(words.flatMap((word) => (word.about === "cause" ? word.causeId : [])));
  const causes = dropped.size === 0 ? [] : causesOf(assessment, part).filter(({ id }) => dropped.has(id));
  const told = causes.reduce(withoutCause, assessment);
  const heard = new Map(
    words.flatMap((word) => (word.about === "note" ? [[word.noteIndex, word.word]] : [])),
  );
  if (heard.size === 0) return told;
  return {
    ...told,
    notes: told.notes.map((note) => {
      const word = heard.get(note.index);
      return word === "right" ? rightNote(note) : word === "wrong" ? wrongNote(note) : note;
    }),
  };
}

function withoutCause(assessment: Assessment, { kind, places }: Cause): Assessment {
  const { take, notes, extras, breaks, dynamics } = assessment;
  const indexes = new Set(places.map(({ noteIndex }) => noteIndex));
  const at = new Set(places.map(({ atSec }) => atSec));
  const without = (change: (note: NoteVerdict) => NoteVerdict): Assessment => ({
    ...assessment,
    notes: notes.map((note) => (indexes.has(note.index) ? change(note) : note)),
  });
  const noFlag = (flag: NoteVerdict["flags"][number]) =>
    without((note) => ({ ...note, flags: note.flags.filter((each) => each !== flag) }));
  switch (kind) {
    case "rushing":
    case "dragging":
      return { ...assessment, take: { ...take, driftPercent: null } };
    case "repeat-too-many":
      return { ...assessment, breaks: breaks.filter(({ atSec }) => !at.has(atSec)) };
    case "hesitation":
    case "restart":
    case "stopped-early":
      return { ...assessment, breaks: breaks.filter((each) => each.kind !== kind || !at.has(each.atSec)) };
    case "extra":
      return { ...assessment, extras: extras.filter(({ onset }) => !at.has(onset)) };
    case "doubled": {
      const again = places.map(({ atSec, untilSec }) => [atSec, untilSec] as const);
      return {
        ...assessment,
        extras: extras.filter(({ onset }) => !again.some(([from, to]) => onset > from && onset <= to + 1e-6)),
      };
    }
    case "dynamics": {
      const bars = new Set(places.map(({ measure }) => measure));
      return {
        ...assessment,
        dynamics: (dynamics ?? []).map((each) =>
          bars.has(each.measure) ? { ...each, audible: true } : each,
        ),
      };
    }
    case "accents":
      return { ...assessment, marks: withoutMark(assessment.marks, kind) };
    case "staccato-slower":
      // What it explained of the beat goes with it.
      return {
        ...assessment,
        take: { ...take, driftPercent: (take.driftPercent ?? 0) < 0 ? null : take.driftPercent },
        marks: withoutMark(assessment.marks, kind),
      };
    case "uneven":
      return {
        ...without((note) => ({ ...note, timing: "ok" })),
        take: { ...take, flags: take.flags.filter((flag) => flag !== "uneven") },
      };
    case "early":
    case "late":
      return without((note) => ({ ...note, timing: "ok" }));
    case "short":
    case "long":
      return without((note) => ({ ...note, length: "ok" }));
    case "cracked":
      return noFlag("cracked-attack");
    case "corrected":
    case "not-short":
    case "squeak":
    case "breath-in-slur":
    case "re-tongued-slur":
      return noFlag(kind);
    default:
      return without(rightNote);
  }
}

function withoutMark(marks: Assessment["marks"], kind: "accents" | "staccato-slower"): Assessment["marks"] {
  if (!marks) return marks;
  const { accents, staccato } = marks;
  return kind === "accents"
    ? { ...marks, accents: accents && { ...accents, audible: true } }
    : { ...marks, staccato: staccato && { ...staccato, slowerPercent: null } };
}

/** Nothing is held against it. What was measured of it stays. */
function rightNote(note: NoteVerdict): NoteVerdict {
  return {
    ...note,
    verdict: "ok",
    kind: null,
    timing: note.timing && "ok",
    length: note.length && "ok",
    flags: note.flags.filter((flag) => flag === "not-recorded"),
  };
}

function wrongNote(note: NoteVerdict): NoteVerdict {
  return { ...note, verdict: "wrong-pitch", kind: "other", flags: [...note.flags, "heard-wrong"] };
}
