import { type Pitch, pitchName } from "../music";
import type { Score, SoundingNote } from "../score";
import { median, round } from "./statistics";
import type { DynamicChange, NameTuning, NoteVerdict } from "./types";

/** Written dynamics from soft to loud. */
const LOUDNESS = ["ppp", "pp", "p", "mp", "mf", "f", "ff", "fff"];
/** Notes on either side of a written change whose levels are compared. */
const AROUND = 6;
/** A change is audible when the level goes the written way by so much, dB. */
const AUDIBLE_CHANGE_DB = 2;
/** Notes lasting less have no steady pitch to speak of, seconds. */
const STEADY_SEC = 0.2;

/** Where each note name lies on the whole: median distance from equal temperament of right and steady notes, lowest name first. */
export function tuningByName(notes: readonly SoundingNote[], verdicts: readonly NoteVerdict[]): NameTuning[] {
  const byPitch = new Map<string, { written: Pitch; midi: number; cents: number[] }>();
  verdicts.forEach((verdict, i) => {
    const { written, midi } = notes[i]!;
    if (!written || midi === null || verdict.verdict !== "ok" || verdict.cents === null) return;
    if (verdict.offset! - verdict.onset! < STEADY_SEC) return;
    const name = pitchName(written);
    const entry = byPitch.get(name) ?? { written, midi, cents: [] };
    entry.cents.push(verdict.cents);
    byPitch.set(name, entry);
  });
  return [...byPitch]
    .sort(([, a], [, b]) => a.midi - b.midi)
    .map(([name, { cents }]) => ({ name, cents: round(median(cents), 1), notes: cents.length }));
}

/** From one written dynamic to another in steps of pp p mp mf f ff, + is louder. */
export function loudnessSteps(from: string, to: string): number {
  return LOUDNESS.indexOf(to) - LOUDNESS.indexOf(from);
}

/** Every written change of dynamics, and whether the player's own level followed it. Relative levels, never sound pressure. */
export function writtenChanges(
  score: Score,
  notes: readonly SoundingNote[],
  verdicts: readonly NoteVerdict[],
): DynamicChange[] {
  const marks = new Map(
    score.parts[0].measures.flatMap((measure) =>
      measure.events.flatMap((event) => (event.dynamic ? [[event.id, event.dynamic] as const] : [])),
    ),
  );
  const changes: DynamicChange[] = [];
  let current: string | undefined;
  let since = 0;
  notes.forEach((note, i) => {
    const mark = marks.get(note.eventId);
    if (!mark || mark === current) return;
    if (current) {
      const levels = (from: number, to: number) =>
        verdicts.slice(Math.max(0, from), to).flatMap(({ levelDb }) => (levelDb === null ? [] : [levelDb]));
      const [before, after] = [levels(Math.max(since, i - AROUND), i), levels(i, i + AROUND)];
      if (before.length > 0 && after.length > 0) {
        const changeDb = round(median(after) - median(before), 1);
        const way = Math.sign(loudnessSteps(current, mark));
        changes.push({
          measure: note.measure,
          from: current,
          to: mark,
          changeDb,
          audible: way * changeDb >= AUDIBLE_CHANGE_DB,
        });
      }
    }
    current = mark;
    since = i;
  });
  return changes;
}
