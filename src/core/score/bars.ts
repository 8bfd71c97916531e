import {
  addFractions,
  compareFractions,
  type Fraction,
  fractionToNumber,
  multiplyFractions,
  subtractFractions,
} from "./fraction";
import { barQuarters, beatOfMetre, type Measure, type NoteType, type ScoreEvent } from "./model";
import { durationOfShape, shapeOfDuration } from "./shape";

/** A note or rest before it has a place in a bar; longer than a bar when it must be. */
export type Token = Omit<ScoreEvent, "type" | "dots"> & { type?: NoteType; dots?: number };

/** A bar without its notes: number, metre, key, repeats. `length` is set where it is shorter than its metre. */
export type Frame = Omit<Measure, "events"> & { length?: Fraction };

/**
 * Lays tokens into bars one after another. What crosses a barline, or has a length that no single note value has, is
 * split and tied; the first piece keeps the token's id. Bars beyond the frames get the metre of the last one.
 *
 * @param frames  at least one, the first with a metre
 * @throws RangeError for a triplet that would cross a barline, or a length that note values cannot say
 */
export function layInBars(tokens: readonly Token[], frames: readonly Frame[]): Measure[] {
  const measures: Measure[] = [];
  let time = frames[0]?.time ?? { beats: 4, beatType: 4 };
  let room: Fraction = "0";
  const open = () => {
    const place = measures.length;
    const { length, ...frame } = frames[place] ?? nextFrame(measures, place);
    time = frame.time ?? time;
    room = length ?? barQuarters(time);
    measures.push({ ...frame, ...(length ? { implicit: true as const } : {}), events: [] });
  };
  open();
  for (const token of tokens) {
    let rest = token.duration;
    let piece = 0;
    do {
      if (compareFractions(room, "0") === 0) open();
      const measure = measures.at(-1)!;
      const whole = compareFractions(rest, room) <= 0;
      if (!whole && token.tuplet)
        throw new RangeError(`a triplet does not fit into what is left of bar ${measure.number}`);
      const now = whole ? rest : room;
      const at = subtractFractions(frameLength(measure, frames[measures.length - 1], time), room);
      const values =
        whole && piece === 0 && token.type
          ? [{ duration: now, type: token.type, dots: token.dots ?? 0 }]
          : noteValues(now, at, beatOfMetre(time));
      for (const value of values) {
        const last = compareFractions(rest, value.duration) === 0;
        measure.events.push(pieceOf(token, value, piece++, last));
        rest = subtractFractions(rest, value.duration);
      }
      room = subtractFractions(room, now);
    } while (compareFractions(rest, "0") > 0);
  }
  for (const measure of measures)
    for (const event of measure.events) if (fillsBar(event, measure)) event.wholeMeasure = true;
  return measures;
}

function frameLength(measure: Measure, frame: Frame | undefined, time: Measure["time"]): Fraction {
  return (measure.implicit && frame?.length) || barQuarters(time!);
}

function fillsBar(event: ScoreEvent, measure: Measure): boolean {
  return event.kind === "rest" && measure.events.length === 1 && !measure.implicit;
}

function nextFrame(measures: readonly Measure[], place: number): Frame {
  const taken = (id: string) => measures.some((measure) => measure.id === id);
  let id = `m${place + 1}`;
  for (let copy = 2; taken(id); copy++) id = `m${place + 1}-${copy}`;
  const pickup = measures[0]?.number === "0" ? 0 : 1;
  return { id, number: String(place + pickup) };
}

/** One notehead of a token: signs of the attack stay with the first, those of the end go with the last. */
function pieceOf(
  token: Token,
  value: { duration: Fraction; type: NoteType; dots: number },
  piece: number,
  last: boolean,
): ScoreEvent {
  const { tieStart, tieStop, slurStart, slurStop, breath, fermata, hairpinStop, ...kept } = token;
  const { articulations, dynamic, hairpinStart, lyric, ...later } = kept;
  const tied = token.kind === "note";
  return {
    ...(piece === 0 ? kept : later),
    ...value,
    id: piece === 0 ? token.id : `${token.id}t${piece + 1}`,
    ...((piece === 0 ? tieStop : tied) ? { tieStop: true as const } : {}),
    ...((last ? tieStart : tied) ? { tieStart: true as const } : {}),
    ...(piece === 0 && slurStart !== undefined ? { slurStart } : {}),
    ...(last && slurStop !== undefined ? { slurStop } : {}),
    ...(last && breath ? { breath } : {}),
    ...(last && fermata ? { fermata } : {}),
    ...(last && hairpinStop ? { hairpinStop } : {}),
  };
}

/** A length as plain or dotted values: up to the next beat first when it starts between beats, then the longest that fit. */
function noteValues(
  length: Fraction,
  at: Fraction,
  beat: Fraction,
): { duration: Fraction; type: NoteType; dots: number }[] {
  const values: { duration: Fraction; type: NoteType; dots: number }[] = [];
  let rest = length;
  let place = at;
  while (compareFractions(rest, "0") > 0) {
    const beats = fractionToNumber(place) / fractionToNumber(beat);
    const toBeat = subtractFractions(multiplyFractions(String(Math.floor(beats) + 1), beat), place);
    const between = Math.abs(beats - Math.round(beats)) > 1e-9 && compareFractions(rest, toBeat) > 0;
    const wanted = between ? toBeat : rest;
    const shape = shapeOfDuration(wanted);
    const duration = durationOfShape(shape);
    if (compareFractions(duration, rest) > 0) throw new RangeError("a note is shorter than a 32nd");
    values.push({ duration, ...shape });
    rest = subtractFractions(rest, duration);
    place = addFractions(place, duration);
  }
  return values;
}
