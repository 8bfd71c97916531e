import { drumUnder, keyTonic, pitchToMidi, type Range, tuneDrums } from "../music";
import {
  addFractions,
  compareFractions,
  type Fraction,
  fractionToNumber,
  multiplyFractions,
} from "./fraction";
import { barQuarters, beatOfMetre, type Measure, type Part, type ScoreEvent } from "./model";
import { durationOfShape, shapeOfDuration } from "./shape";

/**
 * What timpani do under a line: one stroke where something begins on the first beat of a bar, or on the third of four, on
 * the drum (tonic or dominant of the key) that goes with the note there; rests elsewhere. Every stroke keeps the id of the
 * note it goes with, every bar its own signs. A part of our own making after common practice, no published source.
 *
 * @param drums  compass of each drum; where they cannot be tuned to the key the bars are rests
 */
export function onTimpani(source: Part, drums: readonly Range[]): Measure[] {
  const inKey = (key: NonNullable<Measure["key"]>) => {
    const tonic = pitchToMidi(keyTonic(key.fifths, key.mode)) + source.soundsBy.semitones;
    return { tonic, tuned: tuneDrums(drums, tonic) };
  };
  let now: ReturnType<typeof inKey> | undefined;
  let time = { beats: 4, beatType: 4 };
  return source.measures.map(({ key, ...measure }) => {
    if (key || !now) now = inKey(key ?? { fifths: 0, mode: "major" });
    time = measure.time ?? time;
    const { tonic, tuned } = now;
    return {
      ...measure,
      events: strokes(measure, time, (event) =>
        event.pitch && tuned
          ? (drumUnder(tuned, pitchToMidi(event.pitch) + source.soundsBy.semitones - tonic) ?? undefined)
          : undefined,
      ),
    };
  });
}

/** The bar's own lengths, joined between the places where a drum may strike. */
function strokes(
  measure: Omit<Measure, "key">,
  time: NonNullable<Measure["time"]>,
  drum: (event: ScoreEvent) => ScoreEvent["pitch"],
): ScoreEvent[] {
  const half = strokeLength(time);
  const events: ScoreEvent[] = [];
  let at: Fraction = "0";
  for (const event of measure.events) {
    if (event.grace) continue;
    const onStroke = !measure.implicit && isMultiple(at, half) && !event.tieStop;
    const pitch = onStroke ? drum(event) : undefined;
    const {
      slurStart: _start,
      slurStop: _stop,
      tieStart: _tie,
      tieStop: _tied,
      pitch: _pitch,
      ...plain
    } = event;
    const { articulations: _articulations, breath: _breath, ...rest } = plain;
    events.push(pitch ? { ...plain, pitch } : { ...rest, kind: "rest" });
    at = addFractions(at, event.duration);
  }
  const whole = joined(events, half);
  return whole.length === 1 && whole[0]!.kind === "rest" && !measure.implicit
    ? [{ ...whole[0]!, wholeMeasure: true }]
    : whole;
}

/** Half a bar of four, else a whole bar. */
function strokeLength(time: NonNullable<Measure["time"]>): Fraction {
  const bar = barQuarters(time);
  const beat = beatOfMetre(time);
  const fourBeats = multiplyFractions("4", beat);
  return compareFractions(bar, fourBeats) === 0 ? multiplyFractions("2", beat) : bar;
}

function isMultiple(at: Fraction, of: Fraction): boolean {
  return Number.isInteger(fractionToNumber(at) / fractionToNumber(of));
}

/** A stroke lasts, and rests are one sign, to the next place where a drum may strike, as far as one note value says it. */
function joined(events: readonly ScoreEvent[], half: Fraction): ScoreEvent[] {
  const out: ScoreEvent[] = [];
  let at: Fraction = "0";
  for (const event of events) {
    const before = out.at(-1);
    const sum = before && addFractions(before.duration, event.duration);
    const fits = sum && !isMultiple(at, half) && event.kind === "rest" && !before.tuplet && !event.tuplet;
    const shape = fits ? shapeOfDuration(sum) : null;
    if (fits && shape && compareFractions(durationOfShape(shape), sum) === 0)
      out[out.length - 1] = { ...before, duration: sum, ...shape };
    else out.push(event);
    at = addFractions(at, event.duration);
  }
  return out;
}
