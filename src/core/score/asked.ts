import { cutBars } from "./cut";
import type { Measure, Part, Score, Style } from "./model";

/** A style over some bars of a line, by index from 0, both ends included. */
export interface StyleRange {
  firstBar: number;
  lastBar: number;
  style: Style;
}

/** How a line is asked for: what a take is heard against. */
export interface HowAsked {
  /** Indexes of the first and last bar; null for the whole line. */
  bars: readonly [number, number] | null;
  withoutRepeats: boolean;
  styles: readonly StyleRange[];
}

/** What is written over the first bar of a style. */
const STYLE_WORDS: Record<Style, string> = {
  short: "short",
  smooth: "smooth, no gaps",
  tapered: "held ends, tapered",
};

/**
 * A line as it was asked for: its bars cut out, repeats taken or not, styles kept in its bars and written over the first of
 * each. Where styles overlap the later one counts; bars outside the cut are left alone.
 *
 * @throws RangeError for bars that the line does not have
 */
export function scoreAsked(score: Score, { bars, withoutRepeats, styles }: HowAsked): Score {
  const cut = bars ? cutBars(score, bars[0], bars[1]) : score;
  if (styles.length === 0 && !withoutRepeats) return cut;
  const shift = bars?.[0] ?? 0;
  const styleOf = (index: number) =>
    styles.findLast(({ firstBar, lastBar }) => firstBar <= index + shift && index + shift <= lastBar)?.style;
  const styled = (part: Part): Part => ({
    ...part,
    measures: part.measures.map((measure, index) =>
      inStyle(measure, styleOf(index), index > 0 ? styleOf(index - 1) : undefined),
    ),
  });
  const [first, ...others] = cut.parts;
  return {
    ...cut,
    ...(withoutRepeats ? { playOnce: true as const } : {}),
    parts: styles.length === 0 ? cut.parts : [styled(first), ...others.map(styled)],
  };
}

function inStyle(measure: Measure, style: Style | undefined, before: Style | undefined): Measure {
  if (!style) return measure;
  if (style === before) return { ...measure, style };
  return { ...measure, style, words: [measure.words, STYLE_WORDS[style]].filter(Boolean).join(", ") };
}
