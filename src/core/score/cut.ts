import type { Measure, Part, Score, ScoreEvent } from "./model";

/**
 * Some bars of a line as a line of their own: what a task with a bar range asks for. Event ids stay, key, metre and tempo in
 * force stand at its head, ties and slurs that are cut lose their ends, and repeats, endings and jumps are left out.
 *
 * @param from  index of the first measure, from 0
 * @param to  index of the last, itself played
 * @throws RangeError for bars that the line does not have
 */
export function cutBars(score: Score, from: number, to: number): Score {
  const last = score.parts[0].measures.length - 1;
  if (!(Number.isInteger(from) && Number.isInteger(to) && from >= 0 && from <= to && to <= last))
    throw new RangeError("There are no such bars in this line");
  if (from === 0 && to === last) return score;
  const [first, ...others] = score.parts;
  const purpose =
    score.purpose?.kind === "counting"
      ? { ...score.purpose, forms: score.purpose.forms.slice(from, to + 1) }
      : score.purpose;
  return {
    ...score,
    ...(purpose ? { purpose } : {}),
    parts: [cutPart(first, from, to), ...others.map((part) => cutPart(part, from, to))],
  };
}

function cutPart(part: Part, from: number, to: number): Part {
  const inForce: Pick<Measure, "key" | "time" | "tempo"> = {};
  for (const { key, time, tempo } of part.measures.slice(0, from + 1))
    Object.assign(inForce, key && { key }, time && { time }, tempo && { tempo });
  const kept = part.measures.slice(from, to + 1).map(withoutForm);
  const ends = openEnds(kept);
  const measures = kept.map((measure, i) => ({
    ...(i === 0 ? { ...measure, ...inForce } : measure),
    events: measure.events.map((event) => (ends.has(event) ? closed(event, ends.get(event)!) : event)),
  }));
  return { ...part, measures };
}

function withoutForm(measure: Measure): Measure {
  const { repeatStart, repeatEnd, ending, segno, coda, fine, toCoda, jump, ...plain } = measure;
  return plain;
}

type Ends = Set<"tieStart" | "tieStop" | "slurStart" | "slurStop" | "hairpinStart" | "hairpinStop">;

/** Ends of ties, slurs and hairpins whose other end was cut off. */
function openEnds(measures: readonly Measure[]): Map<ScoreEvent, Ends> {
  const ends = new Map<ScoreEvent, Ends>();
  const lose = (event: ScoreEvent, end: Ends extends Set<infer E> ? E : never) =>
    ends.set(event, (ends.get(event) ?? new Set()).add(end));
  const events = measures.flatMap((measure) => measure.events);
  if (events[0]?.tieStop) lose(events[0], "tieStop");
  const last = events.at(-1);
  if (last?.tieStart) lose(last, "tieStart");
  const slurs = new Map<number, ScoreEvent>();
  let hairpin: ScoreEvent | null = null;
  for (const event of events) {
    if (event.slurStop !== undefined && !slurs.delete(event.slurStop)) lose(event, "slurStop");
    if (event.slurStart !== undefined) slurs.set(event.slurStart, event);
    if (event.hairpinStop) {
      if (!hairpin) lose(event, "hairpinStop");
      hairpin = null;
    }
    if (event.hairpinStart) hairpin = event;
  }
  for (const event of slurs.values()) lose(event, "slurStart");
  if (hairpin) lose(hairpin, "hairpinStart");
  return ends;
}

function closed(event: ScoreEvent, ends: Ends): ScoreEvent {
  const kept = { ...event };
  for (const end of ends) delete kept[end];
  return kept;
}
