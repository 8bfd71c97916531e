import type { Assessment, NoteVerdict } from "../listen";
import type { Pitch } from "../music";
import type { Score } from "../score";
import { isClean } from "./clean";
import { driftsNoticeably } from "./propose";

/** Why notes of a take were not clean. */
export type CauseKind =
  | "stopped-early"
  | "restart"
  | "hesitation"
  | NonNullable<NoteVerdict["kind"]>
  | "missed"
  | "extra"
  | "cracked"
  | "squeak"
  | "rushing"
  | "dragging"
  | "early"
  | "late"
  | "short"
  | "long"
  | "breath-in-slur"
  | "re-tongued-slur";

/** One thing that went wrong, with every place where it did. */
export interface Cause {
  kind: CauseKind;
  /** What stands there; null for strokes, and where it is no matter of one note. */
  written: Pitch | null;
  /** What sounded instead, sounding MIDI number. */
  playedMidi: number | null;
  places: { eventId: string | null; measure: string; measureIndex: number }[];
  /** How many notes of this name there were in all: five of five is "every". */
  outOf: number;
}

/** How much a kind weighs in one place: what stops the music before what is wrong, and that before what is uneven (common practice, no published source). */
const WEIGHT: Record<CauseKind, number> = {
  "stopped-early": 12,
  restart: 8,
  hesitation: 6,
  "key-signature": 5,
  other: 4,
  semitone: 4,
  partial: 4,
  octave: 3,
  missed: 4,
  extra: 2,
  rushing: 6,
  dragging: 6,
  cracked: 2,
  squeak: 2,
  early: 1.5,
  late: 1.5,
  short: 1,
  long: 1,
  "breath-in-slur": 1.5,
  "re-tongued-slur": 1.5,
};

/**
 * What went wrong in a take, each cause once with all its places, the most important first: five naturals for one flat are one
 * finding, forty hurried notes of one drift are one too. What lies behind an early stop is not told note by note.
 *
 * @param score  the part that was played, with the event ids of the assessment
 */
export function causesOf(assessment: Assessment, score: Score): Cause[] {
  const events = new Map(
    score.parts[0].measures.flatMap(({ events, number }, measureIndex) =>
      events.map(
        (event) => [event.id, { pitch: event.pitch ?? null, measureIndex, measure: number }] as const,
      ),
    ),
  );
  const barByNumber = new Map(score.parts[0].measures.map(({ number }, index) => [number, index]));
  const stopped = assessment.breaks.some(({ kind }) => kind === "stopped-early");
  const reached = stopped
    ? assessment.notes.findLastIndex(({ onset }) => onset !== null)
    : assessment.notes.length - 1;
  const drifts = driftsNoticeably(assessment);
  const causes = new Map<string, Cause>();
  const add = (
    kind: CauseKind,
    key: string,
    place: Cause["places"][number],
    about: Partial<Pick<Cause, "written" | "playedMidi" | "outOf">> = {},
  ) => {
    const id = `${kind} ${key}`;
    const cause = causes.get(id) ?? { kind, written: null, playedMidi: null, places: [], outOf: 0, ...about };
    cause.places.push(place);
    causes.set(id, cause);
  };

  const played = assessment.notes.slice(0, reached + 1);
  const named = (note: NoteVerdict) => nameOf(events.get(note.eventId)?.pitch ?? null);
  const counts = new Map<string, number>();
  for (const note of played) counts.set(named(note), (counts.get(named(note)) ?? 0) + 1);
  for (const note of played) {
    const { pitch: written = null, measureIndex = 0 } = events.get(note.eventId) ?? {};
    const place = { eventId: note.eventId, measure: note.measure, measureIndex };
    const kind = kindOf(note, drifts);
    if (!kind) continue;
    const name = named(note);
    const wrong = note.verdict === "wrong-pitch";
    const key = wrong ? `${name} ${Math.round(note.playedMidi!) % 12}` : kind === "missed" ? name : "";
    add(
      kind,
      key,
      place,
      wrong || kind === "missed" || kind === "cracked"
        ? { written, playedMidi: note.playedMidi, outOf: counts.get(name)! }
        : {},
    );
  }
  for (const pause of assessment.breaks)
    add(pause.kind, pause.kind === "stopped-early" ? "" : pause.measure, {
      eventId: null,
      measure: pause.measure,
      measureIndex: barByNumber.get(pause.measure) ?? 0,
    });
  for (const { onset } of assessment.extras) {
    const before = played.findLast((note) => note.onset !== null && note.onset <= onset) ?? played[0];
    const measureIndex = before ? (events.get(before.eventId)?.measureIndex ?? 0) : 0;
    add("extra", "", { eventId: null, measure: before?.measure ?? "1", measureIndex });
  }
  if (drifts)
    add(assessment.take.driftPercent! > 0 ? "rushing" : "dragging", "", {
      eventId: null,
      measure: score.parts[0].measures[0]!.number,
      measureIndex: 0,
    });
  const weight = ({ kind, places }: Cause) => WEIGHT[kind] * places.length;
  return [...causes.values()].sort((a, b) => weight(b) - weight(a));
}

/** The name of a pitch whatever its octave. */
function nameOf(pitch: Pitch | null): string {
  return pitch ? `${pitch.letter}${pitch.alter}` : "";
}

/** What is to be said of a note; the gravest only. A note that is early because everything rushes is no cause of its own. */
function kindOf(note: NoteVerdict, drifts: boolean): CauseKind | null {
  if (note.flags.includes("not-recorded")) return null;
  if (note.verdict === "missed") return "missed";
  if (note.verdict === "wrong-pitch") return note.kind ?? "other";
  if (note.flags.includes("squeak")) return "squeak";
  if (note.flags.includes("cracked-attack")) return "cracked";
  if (!drifts && (note.timing === "early" || note.timing === "late")) return note.timing;
  if (note.length === "short" || note.length === "long") return note.length;
  if (note.flags.includes("breath-in-slur")) return "breath-in-slur";
  if (note.flags.includes("re-tongued-slur")) return "re-tongued-slur";
  return null;
}

/** What went well in a take, as far as it was measured. */
export type GoodThing =
  | { kind: "all-notes"; notes: number }
  | { kind: "steady" }
  /** A run of bars without a fault, printed numbers. */
  | { kind: "bars"; from: string; to: string }
  | { kind: "notes"; found: number; notes: number };

/** The best that can honestly be said of a take; null where nothing was measured to be good. */
export function goodThingOf(assessment: Assessment): GoodThing | null {
  const { notes, take, breaks } = assessment;
  if (take.status !== "assessed" || notes.length === 0) return null;
  const found = notes.filter(({ verdict }) => verdict === "ok");
  if (found.length === notes.length) return { kind: "all-notes", notes: notes.length };
  const timed = found.filter(({ timing }) => timing !== null);
  const inTime = timed.filter(({ timing }) => timing === "ok").length;
  if (
    timed.length >= 8 &&
    inTime >= 0.9 * timed.length &&
    breaks.length === 0 &&
    !driftsNoticeably(assessment)
  )
    return { kind: "steady" };
  let best: { from: string; to: string; bars: number } | null = null;
  let run: { from: string; to: string; bars: number } | null = null;
  for (const measure of new Set(notes.map((note) => note.measure))) {
    const clean = notes.filter((note) => note.measure === measure).every(isClean);
    run = clean
      ? run
        ? { from: run.from, to: measure, bars: run.bars + 1 }
        : { from: measure, to: measure, bars: 1 }
      : null;
    if (run && run.bars > (best?.bars ?? 0)) best = run;
  }
  if (best) return { kind: "bars", from: best.from, to: best.to };
  return found.length >= notes.length / 2
    ? { kind: "notes", found: found.length, notes: notes.length }
    : null;
}
