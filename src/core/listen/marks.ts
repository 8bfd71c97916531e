import type { Articulation, SoundingNote } from "../score";
import type { Features } from "./features";
import { loudest } from "./levels";
import { median, round } from "./statistics";
import type { MarksHeard, NoteVerdict } from "./types";

/**
 * Accents: how loud a note gets in its first moment, seconds, against so many notes on either side that have none; said of so many notes at
 * least, as heard or not from so many dB on ("accents" of the marks bench).
 */
const ACCENT = { withinSec: 0.12, beside: 2, reach: 4, least: 3, heardDb: 2, unheardDb: 1 };
/** Staccato: so many steps from note to note with and without, none of them a pause; not where those without drift by themselves, percent. */
const STACCATO = { leastNotes: 3, leastSteps: 4, pause: 1.6, drifts: 5 };

/**
 * Accents and staccato over the whole take.
 *
 * @param verdicts  one a note, in their order
 */
export function marksHeard(
  notes: readonly SoundingNote[],
  verdicts: readonly NoteVerdict[],
  features: Features,
): MarksHeard {
  return {
    accents: accentsOf(notes, verdicts, features),
    staccato: staccatoOf(notes, verdicts),
  };
}

const has = ({ articulations = [] }: SoundingNote, ...signs: readonly Articulation[]) =>
  signs.some((sign) => articulations.includes(sign));

function accentsOf(
  notes: readonly SoundingNote[],
  verdicts: readonly NoteVerdict[],
  { outlineDb, fineHopSec }: Features,
): MarksHeard["accents"] {
  const levels = verdicts.map(({ onset, offset }) => {
    if (onset === null || offset === null) return null;
    const from = Math.round(onset / fineHopSec);
    return loudest(
      outlineDb,
      from,
      from + Math.round(Math.min(ACCENT.withinSec, offset - onset) / fineHopSec),
    );
  });
  const accented = notes.map((note) => has(note, "accent", "strong-accent"));
  const louder = notes.flatMap((note, i) => {
    const own = levels[i];
    if (!accented[i] || note.slurred || own == null) return [];
    const side = (step: 1 | -1) =>
      Array.from({ length: ACCENT.reach }, (_, k) => i + step * (k + 1))
        .filter((at) => accented[at] === false && !notes[at]!.slurred && levels[at] != null)
        .slice(0, ACCENT.beside)
        .map((at) => levels[at]!);
    const beside = [...side(-1), ...side(1)];
    return beside.length > 0 ? [own - median(beside)] : [];
  });
  if (louder.length < ACCENT.least) return null;
  const louderDb = round(median(louder), 1);
  const audible = louderDb >= ACCENT.heardDb ? true : louderDb <= ACCENT.unheardDb ? false : null;
  return { notes: louder.length, louderDb, audible };
}

function staccatoOf(
  notes: readonly SoundingNote[],
  verdicts: readonly NoteVerdict[],
): MarksHeard["staccato"] {
  const ratios = notes.flatMap((note, i) =>
    has(note, "staccato") && verdicts[i]!.lengthRatio !== null ? [verdicts[i]!.lengthRatio] : [],
  );
  if (ratios.length < STACCATO.leastNotes) return null;
  const steps = notes.slice(0, -1).flatMap((note, i) => {
    const [from, to] = [verdicts[i]!.onset, verdicts[i + 1]!.onset];
    const apart = notes[i + 1]!.onsetQuarters - note.onsetQuarters;
    return from === null || to === null || to <= from || apart <= 0 || note.fermata
      ? []
      : [{ short: has(note, "staccato"), pace: (to - from) / apart }];
  });
  const usual = median(steps.map(({ pace }) => pace));
  const paces = (short: boolean) =>
    steps.flatMap((step) => (step.short === short && step.pace < STACCATO.pause * usual ? [step.pace] : []));
  const [short, others] = [paces(true), paces(false)];
  const half = others.length >> 1;
  const drift = 100 * Math.abs(median(others.slice(half)) / median(others.slice(0, half)) - 1);
  const told = Math.min(short.length, others.length) >= STACCATO.leastSteps && drift < STACCATO.drifts;
  return {
    notes: ratios.length,
    lengthRatio: round(median(ratios), 2),
    slowerPercent: told ? round((median(short) / median(others) - 1) * 100, 1) : null,
  };
}
