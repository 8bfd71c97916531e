import type { SoundingNote } from "../score";
import type { Match } from "./align";
import type { Segment } from "./segments";
import { median } from "./statistics";
import type { TakeBreak } from "./types";

/** Stretches of a path that go on through the line without a jump, in the order they were played. */
export function splitPasses(matches: readonly Match[]): Match[][] {
  const passes: Match[][] = [];
  for (const match of matches) {
    if (match.jump || passes.length === 0) passes.push([]);
    passes.at(-1)!.push(match);
  }
  return passes;
}

/** A match that is judged, and in which pass it was played. */
export interface Chosen extends Match {
  pass: number;
}

/** A pass that has so much of the line is complete. */
const COMPLETE = 0.9;

/** The best complete pass where there is one, else for every note the last pass that reached it. */
export function chooseMatches(passes: readonly Match[][], notes: readonly SoundingNote[]): Chosen[] {
  const complete = passes
    .map((pass, index) => ({ pass, index }))
    .filter(({ pass }) => pass.length >= COMPLETE * notes.length);
  const best = complete.sort((a, b) => b.pass.length - a.pass.length || b.index - a.index)[0];
  const byNote = new Map<number, Chosen>();
  // Who begins again does so at a bar line.
  const barStart = (note: number) => {
    let first = note;
    while (first > 0 && notes[first - 1]!.measure === notes[note]!.measure) first--;
    return first;
  };
  const take = (pass: readonly Match[], index: number) => {
    // What a later pass went over and left out was missed, also when an earlier one had it.
    for (let note = barStart(pass[0]!.note); note <= pass.at(-1)!.note; note++) byNote.delete(note);
    for (const match of pass) byNote.set(match.note, { ...match, pass: index });
  };
  passes.forEach(take);
  if (best) take(best.pass, best.index);
  return [...byNote.values()].sort((a, b) => a.note - b.note);
}

/** So few notes after a leap to the end may as well be the notes that come next. */
const LONGEST_LOOSE_END = 3;

/**
 * Who puts the instrument down early may end on the pitch of the last written note. Where the last heard notes lie behind notes
 * that were left out, and the notes that come next have the same pitches, they are those, if the time fits them better.
 */
export function endInPlace(
  chosen: Chosen[],
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
): Chosen[] {
  const leap = chosen.findLastIndex((match, i) => i > 0 && match.note > chosen[i - 1]!.note + 1);
  const loose = chosen.length - leap;
  if (leap < 2 || loose > LONGEST_LOOSE_END) return chosen;
  const before = chosen[leap - 1]!;
  const first = chosen[leap]!;
  const next = before.note + 1;
  const moved = chosen.slice(leap).map((match, i) => ({ ...match, note: next + i, pass: before.pass }));
  if (moved.some(({ note }, i) => notes[note]!.midi !== notes[chosen[leap + i]!.note]!.midi)) return chosen;
  const onsetSec = (match: Match) => segments[match.segment]!.onsetSec;
  const quarters = (note: number) => notes[note]!.onsetQuarters - notes[before.note]!.onsetQuarters;
  const pace = median(
    chosen.slice(1, leap).map((match, i) => {
      const previous = chosen[i]!;
      const apart = notes[match.note]!.onsetQuarters - notes[previous.note]!.onsetQuarters;
      return (onsetSec(match) - onsetSec(previous)) / apart;
    }),
  );
  const sec = onsetSec(first) - onsetSec(before);
  const off = (note: number) => Math.abs(sec - pace * quarters(note));
  return off(next) < off(first.note) ? [...chosen.slice(0, leap), ...moved] : chosen;
}

/** Where the player went back in the line and began again. */
export function restarts(
  passes: readonly Match[][],
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
): TakeBreak[] {
  return passes.slice(1).flatMap((pass, i) => {
    const before = passes[i]!.at(-1)!;
    const first = pass[0]!;
    if (first.note > before.note) return [];
    const atSec = segments[first.segment]!.onsetSec;
    return [
      {
        kind: "restart" as const,
        atSec,
        seconds: Math.max(0, atSec - segments[before.segment]!.offsetSec),
        measure: notes[first.note]!.measure,
        ...(inTime(passes[i]!, first, notes, segments) ? { repeatedFrom: notes[before.note]!.measure } : {}),
      },
    ];
  });
}

/** A step back that comes this near to when the next bar was due goes on in time, as a share of the last note's length and seconds. */
const IN_TIME = { share: 0.3, sec: 0.25 };

/** Whether a pass is left at the end of a bar for the beginning of one, without a stop: like a repeat. */
function inTime(
  pass: readonly Match[],
  next: Match,
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
): boolean {
  const last = pass.at(-1)!;
  const begins = (note: number) => notes[note]?.measure !== notes[note - 1]?.measure;
  if (!begins(next.note) || (last.note + 1 < notes.length && !begins(last.note + 1))) return false;
  const sec = (match: Match) => segments[match.segment]!.onsetSec;
  const paces = pass.slice(1).map((match, i) => {
    const quarters = notes[match.note]!.onsetQuarters - notes[pass[i]!.note]!.onsetQuarters;
    return (sec(match) - sec(pass[i]!)) / quarters;
  });
  if (paces.length === 0) return false;
  const { onsetQuarters, durationQuarters } = notes[last.note]!;
  const until = notes[last.note + 1]?.onsetQuarters ?? onsetQuarters + durationQuarters;
  const due = (until - onsetQuarters) * median(paces);
  return Math.abs(sec(next) - sec(last) - due) < Math.min(IN_TIME.sec, IN_TIME.share * due);
}
