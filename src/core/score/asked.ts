import { cutBars } from "./cut";
import type { Dynamic, Measure, Part, Score, ScoreEvent, Style } from "./model";

/** A style over some bars of a line, by index from 0, both ends included. */
export interface StyleRange {
  firstBar: number;
  lastBar: number;
  style: Style;
}

/** A dynamic that was asked for at a note, over whatever is printed there. */
export interface AskedDynamic {
  eventId: string;
  dynamic: Dynamic;
}

/** How a line is asked for: what a take is heard against. */
export interface HowAsked {
  /** Indexes of the first and last bar; null for the whole line. */
  bars: readonly [number, number] | null;
  withoutRepeats: boolean;
  styles: readonly StyleRange[];
  dynamics?: readonly AskedDynamic[];
}

/** What a line is played at where nothing is written (common practice, no published source). */
const UNMARKED: Dynamic = "mf";

/** What is written over the first bar of a style. */
const STYLE_WORDS: Record<Style, string> = {
  short: "short",
  smooth: "smooth, no gaps",
  tapered: "held ends, tapered",
};

/**
 * A line as it was asked for: its bars cut out, repeats taken or not, styles kept in its bars and written over the first of
 * each. Where styles overlap the later one counts; bars outside the cut are left alone. A dynamic that was asked for takes the place
 * of the printed one; what goes before it unmarked is "mf", so that there is a change to hear.
 *
 * @throws RangeError for bars that the line does not have
 */
export function scoreAsked(score: Score, { bars, withoutRepeats, styles, dynamics = [] }: HowAsked): Score {
  const cut = withDynamics(bars ? cutBars(score, bars[0], bars[1]) : score, dynamics);
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

function withDynamics(score: Score, dynamics: readonly AskedDynamic[]): Score {
  if (dynamics.length === 0) return score;
  const asked = new Map(dynamics.map(({ eventId, dynamic }) => [eventId, dynamic]));
  const inPart = (part: Part): Part => {
    const notes = part.measures.flatMap(({ events }) =>
      events.filter(({ kind, grace }) => kind === "note" && !grace),
    );
    const [first] = notes;
    const begins = notes.find(({ id, dynamic }) => dynamic || asked.has(id));
    if (!begins || !notes.some(({ id }) => asked.has(id))) return part;
    const written = (event: ScoreEvent): Dynamic | undefined =>
      asked.get(event.id) ?? (event === first && event !== begins ? UNMARKED : event.dynamic);
    const marked = (event: ScoreEvent): ScoreEvent => {
      const dynamic = written(event);
      return dynamic ? { ...event, dynamic } : event;
    };
    return {
      ...part,
      measures: part.measures.map((measure) => ({ ...measure, events: measure.events.map(marked) })),
    };
  };
  const [first, ...others] = score.parts;
  return { ...score, parts: [inPart(first), ...others.map(inPart)] };
}

function inStyle(measure: Measure, style: Style | undefined, before: Style | undefined): Measure {
  if (!style) return measure;
  if (style === before) return { ...measure, style };
  return { ...measure, style, words: [measure.words, STYLE_WORDS[style]].filter(Boolean).join(", ") };
}
