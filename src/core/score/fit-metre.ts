import { compareFractions, type Fraction, fractionToNumber } from "./fraction";
import type { LeftOut } from "./left-out";
import { barQuarters, type Measure } from "./model";
import { ScoreReadError } from "./xml-tree";

/** A bar as a file has it, and how long its notes are together. */
export interface MeasuredBar {
  measure: Measure;
  length: Fraction;
  /** Line of the file. */
  line: number;
}

/**
 * A bar fills its metre unless it is a pickup, the bar that completes one, or cut by a repeat or double bar; others get a
 * metre of their own, which is told.
 * @throws ScoreReadError for a bar whose length no metre says
 */
export function fitMetres(bars: readonly MeasuredBar[], leftOut: LeftOut): void {
  let time = { beats: 4, beatType: 4 };
  let inForce = time;
  bars.forEach((bar, index) => {
    const { measure, line } = bar;
    const stated = measure.time !== undefined;
    time = measure.time ?? time;
    const full = barQuarters(time);
    if (compareFractions(bar.length, "0") === 0) bar.length = full;
    const order = compareFractions(bar.length, full);
    const before = bars[index - 1]?.measure;
    const after = bars[index + 1]?.measure;
    const cutByRepeat =
      measure.repeatEnd ||
      measure.repeatStart ||
      measure.doubleBar ||
      measure.ending ||
      measure.fine ||
      measure.jump ||
      before?.repeatEnd ||
      before?.doubleBar ||
      after?.repeatStart;
    const short = index === 0 || index === bars.length - 1 || measure.implicit || cutByRepeat;
    if (order < 0 && short) measure.implicit = true;
    else if (order !== 0) {
      const own = metreOf(bar.length, time.beatType);
      if (own) {
        leftOut.add(
          `the metre ${time.beats}/${time.beatType}`,
          `became ${own.beats}/${own.beatType}, to fit the notes`,
          measure.number,
        );
        measure.time = own;
        delete measure.implicit;
      } else if (order < 0) measure.implicit = true;
      else
        throw new ScoreReadError(
          `bar ${measure.number} holds ${bar.length} quarter notes, more than the ${full} of ${time.beats}/${time.beatType}`,
          line,
        );
    } else if (!stated && !sameMetre(inForce, time)) measure.time = time;
    inForce = measure.time ?? inForce;
  });
}

function sameMetre(a: { beats: number; beatType: number }, b: { beats: number; beatType: number }): boolean {
  return a.beats === b.beats && a.beatType === b.beatType;
}

/** The metre whose bar is so long, in the given beat where it goes; undefined where no metre says it. */
function metreOf(length: Fraction, beatType: number): { beats: number; beatType: number } | undefined {
  for (const each of [beatType, 4, 8, 16, 2, 1]) {
    const beats = (fractionToNumber(length) * each) / 4;
    if (Number.isInteger(beats) && beats >= 1 && beats <= 32) return { beats, beatType: each };
  }
  return undefined;
}

/** Endings say how often a repeat is taken: "1, 2" before a "3" is played twice though nobody wrote three times. */
export function countEndings(measures: readonly Measure[]): void {
  measures.forEach((measure, i) => {
    if (!measure.repeatEnd || !measure.ending) return;
    const last = Math.max(...measure.ending.passes);
    const goesOn = measures[i + 1]?.ending?.passes.includes(last + 1) ?? false;
    const times = goesOn ? last + 1 : last;
    if (measure.repeatEnd.times === 2 && times > 2) measure.repeatEnd = { times };
  });
}
