import { median, type NoteVerdict } from "../listen";
import { type Score, timeline } from "../score";

/** Once the beat is further from its beginning than this share of its whole drift, and stays so, it has left it. */
const LEFT_SHARE = 1 / 3;
/** So many gaps between notes tell a pace that one uneven note does not change; a gap so many times the usual one is a pause; a pace drifts by such a share at least. */
const PACE = { gaps: 5, pause: 1.6, drifts: 0.03 };

/** The note from whose bar on the beat leaves that of the beginning; undefined where it does from the first bar on, or nobody can say. */
export function driftsFrom(notes: readonly NoteVerdict[], score: Score): NoteVerdict | undefined {
  const quarters = timeline(score).notes.map(({ onsetQuarters }) => onsetQuarters);
  const all = notes.flatMap((note, i) => {
    const before = notes[i - 1];
    const apart = (quarters[i] ?? 0) - (quarters[i - 1] ?? 0);
    if (!before || before.onset === null || note.onset === null || apart <= 0) return [];
    return [{ note: before, pace: (note.onset - before.onset) / apart }];
  });
  const usual = median(all.map(({ pace }) => pace));
  const gaps = all.filter(({ pace }) => pace > 0 && pace < PACE.pause * usual);
  if (gaps.length < 2 * PACE.gaps) return undefined;
  const third = Math.floor(gaps.length / 3);
  const paceOf = (some: typeof gaps) => median(some.map(({ pace }) => pace));
  const [start, end] = [paceOf(gaps.slice(0, third)), paceOf(gaps.slice(-third))];
  if (Math.abs(start - end) < PACE.drifts * start) return undefined;
  const left = (i: number) => (paceOf(gaps.slice(i, i + PACE.gaps)) - start) / (end - start) > LEFT_SHARE;
  let first = gaps.length - PACE.gaps;
  while (first > 0 && left(first - 1)) first--;
  // The middle of the first window that has left it.
  const { measure } = gaps[first === 0 ? 0 : first + Math.floor(PACE.gaps / 2)]!.note;
  return measure === notes[0]!.measure ? undefined : gaps.find(({ note }) => note.measure === measure)!.note;
}
