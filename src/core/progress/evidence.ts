import { type Assessment, type NoteVerdict, wasRecorded } from "../listen";
import { crossesBreak, type Instrument, keyName, pitchToMidi, signatureAlter } from "../music";
import { rhythmName, type Score, type ScoreEvent, timeline } from "../score";
import { isUneven } from "./clean";

/**
 * What can be known: a written note in its octave (its MIDI number as text), a rhythm figure, a sign or key by the names of
 * the vocabulary, a technique.
 */
export type ThingKind = "note" | "rhythm" | "sign" | "technique";

export interface Thing {
  kind: ThingKind;
  thing: string;
}

/** How often a thing was right and wrong in one take. */
export interface Evidence extends Thing {
  right: number;
  wrong: number;
}

/** Clarinets: a step over the break, its second note right. */
export const OVER_THE_BREAK = "over the break";

/**
 * What one take shows of its player, thing by thing, from the verdicts alone: nothing that was not judged counts, neither
 * for nor against.
 * - a note: its pitch was the written one
 * - a rhythm figure: struck in time and held its length; a rest: the note after it came in time
 * - a key: notes that the signature alters were altered; a slur: no new attack and no breath in it; a tie: held
 * - a dynamic sign: the change to it could be heard; accents: they stand out; staccato: the note was short
 * - over the break: the note after the step was right
 *
 * Notes the device left out say nothing. A take that is not of this line, silent or judged by ear only says nothing.
 *
 * @param part  the part that was played, in written pitch, with the event ids of the assessment
 * @param exempt  written MIDI numbers that are not judged for this player
 * @returns each thing once
 */
export function evidenceOf(
  part: Score,
  instrument: Instrument,
  assessment: Assessment,
  exempt: ReadonlySet<number> = new Set(),
): Evidence[] {
  if (assessment.take.status !== "assessed" || part.catalogued) return [];
  const found = new Map<string, Evidence>();
  const note = (kind: ThingKind, thing: string, right: boolean) => {
    const key = `${kind}/${thing}`;
    const entry = found.get(key) ?? { kind, thing, right: 0, wrong: 0 };
    if (right) entry.right++;
    else entry.wrong++;
    found.set(key, entry);
  };
  const events = eventsOf(part);
  const sounding = new Map(timeline(part).notes.map((each) => [each.index, each]));
  let before: { verdict: NoteVerdict; midi: number | null } | null = null;
  for (const verdict of assessment.notes) {
    const place = events.get(verdict.eventId);
    const sound = sounding.get(verdict.index);
    if (!place || !sound || !wasRecorded(verdict)) {
      before = null;
      continue;
    }
    const midi = sound.written ? pitchToMidi(sound.written) : null;
    if (midi !== null && exempt.has(midi)) {
      before = null;
      continue;
    }
    const pitchRight = verdict.verdict === "ok";
    if (midi !== null && sound.written) {
      note("note", String(midi), pitchRight);
      if (signatureAlter(sound.fifths, sound.written.letter) !== 0 && sound.fifths !== 0) {
        const bySignature = sound.written.alter === signatureAlter(sound.fifths, sound.written.letter);
        if (bySignature && (pitchRight || verdict.kind === "key-signature"))
          note("sign", `key of ${keyName(sound.fifths, place.mode)}`, pitchRight);
      }
      if (
        before?.midi != null &&
        before.verdict.verdict === "ok" &&
        crossesBreak(instrument, before.midi, midi)
      )
        note("technique", OVER_THE_BREAK, pitchRight);
    }
    judgeTime(verdict, place, note);
    if (sound.slurred && verdict.verdict !== "missed")
      note(
        "sign",
        "slur",
        !verdict.flags.includes("re-tongued-slur") && !verdict.flags.includes("breath-in-slur"),
      );
    if (verdict.length !== null && sound.articulations?.includes("staccato"))
      note("sign", "staccato", !verdict.flags.includes("not-short"));
    before = { verdict, midi };
  }
  const accents = assessment.marks?.accents;
  if (accents && accents.audible !== null) note("sign", "accent", accents.audible);
  for (const { to, audible } of assessment.dynamics ?? []) note("sign", to, audible);
  return [...found.values()];
}

interface Place {
  event: ScoreEvent;
  mode: "major" | "minor";
  /** The rest right before it in its bar. */
  restBefore: ScoreEvent | null;
}

function eventsOf(part: Score): Map<string, Place> {
  const places = new Map<string, Place>();
  let mode: "major" | "minor" = "major";
  for (const measure of part.parts[0].measures) {
    mode = measure.key?.mode ?? mode;
    measure.events.forEach((event, i) => {
      const last = measure.events[i - 1];
      places.set(event.id, { event, mode, restBefore: last?.kind === "rest" ? last : null });
    });
  }
  return places;
}

function judgeTime(
  verdict: NoteVerdict,
  { event, restBefore }: Place,
  note: (kind: ThingKind, thing: string, right: boolean) => void,
): void {
  if (event.grace || (verdict.verdict !== "missed" && verdict.timing === null)) return;
  const right = verdict.verdict !== "missed" && !isUneven(verdict);
  note("rhythm", rhythmName(event), right);
  if (event.tieStart) note("rhythm", "tie", right);
  if (event.tuplet?.actual === 3) note("rhythm", "triplet", right);
  if (restBefore && verdict.timing !== null)
    note("rhythm", restBefore.wholeMeasure ? "whole rest" : rhythmName(restBefore), verdict.timing === "ok");
}
