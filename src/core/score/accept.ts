import { INSTRUMENTS, pitchToMidi } from "../music";
import { type Fraction, fractionToNumber, sumFractions } from "./fraction";
import { FASTEST_BPM, SCORE_LIMITS, SLOWEST_BPM } from "./limits";
import { barQuarters, beatOfMetre, type Measure, type Part, type Score, type ScoreEvent } from "./model";
import { playOutOrder } from "./playout";
import { markedTempo } from "./timeline";
import { ScoreReadError } from "./xml-tree";

const BEAT_TYPES = [1, 2, 4, 8, 16, 32];
const ID = /^[A-Za-z_][\w.-]{0,63}$/;
/** Parts made for a kind of player are named after it, as in "horn/small-tunes/double". */
const PART_ID = /^[\w./-]{1,80}$/;
/** Most a part may sound away from what is written: three octaves. */
const WIDEST_TRANSPOSITION = 36;

/**
 * The one gate for scores from outside: every limit, checked once, before anything is stored or computed. A score that
 * passes can be derived, played out, outlined and engraved for every instrument.
 *
 * @throws ScoreReadError with the bar and the reason, one sentence
 */
export function acceptScore(score: Score): void {
  const { parts } = score;
  if (parts.length > SCORE_LIMITS.parts)
    refuse(`there are ${parts.length} parts, more than ${SCORE_LIMITS.parts}`);
  const partIds = new Set<string>();
  let events = 0;
  for (const part of parts) {
    checkId(part.id, partIds, "a part", PART_ID);
    events += checkPart(part);
    if (events > SCORE_LIMITS.events)
      refuse(`there are more than ${SCORE_LIMITS.events} notes and rests in this file`);
  }
  if (
    !parts[0].measures.some((measure) => measure.events.some((event) => event.kind === "note")) &&
    !score.catalogued
  )
    refuse("there are no notes in this file");
  // The first mark sets the tempo of the whole line, in the beat of the first bar.
  checkTempo(markedTempo(score).bpm, parts[0].measures[0]!);
  checkOverrides(score);
}

function refuse(reason: string): never {
  throw new ScoreReadError(reason);
}

/** @returns how many notes and rests the part has */
function checkPart(part: Part): number {
  const { measures, soundsBy } = part;
  if (measures.length === 0) refuse("there is no bar in one of the parts");
  if (measures.length > SCORE_LIMITS.barsAPart)
    refuse(`there are ${measures.length} bars in one part, more than ${SCORE_LIMITS.barsAPart}`);
  checkTransposition(soundsBy);
  const unknown = part.forInstruments?.find((id) => !INSTRUMENTS.some((instrument) => instrument.id === id));
  if (unknown !== undefined) refuse("a part is for an instrument that is not known here");
  const ids = { measures: new Set<string>(), events: new Set<string>() };
  let time = { beats: 4, beatType: 4 };
  let events = 0;
  for (const measure of measures) {
    checkId(measure.id, ids.measures, `bar ${measure.number}`);
    if (measure.time) time = checkMetre(measure.time, measure);
    checkMeasure(measure, time);
    for (const event of measure.events) {
      checkId(event.id, ids.events, `bar ${measure.number}`);
      checkEvent(event, measure, soundsBy.semitones);
    }
    checkLength(measure, time);
    events += measure.events.length;
  }
  checkPlayOut(part);
  return events;
}

function checkId(id: string, seen: Set<string>, place: string, usable = ID): void {
  if (!usable.test(id)) refuse(`${place} has an id that cannot be used`);
  if (seen.has(id)) refuse(`${place} has an id that was used before`);
  seen.add(id);
}

function checkTransposition({ letters, semitones }: Part["soundsBy"]): void {
  if (!Number.isInteger(letters) || !Number.isInteger(semitones))
    refuse("the transposition of a part is not a whole number of letters and semitones");
  // A letter step is 12/7 of a semitone on average; an interval lies within two semitones of that.
  if (Math.abs(semitones) > WIDEST_TRANSPOSITION || Math.abs(semitones - (12 * letters) / 7) > 2)
    refuse(`a part cannot be transposed by ${letters} letters and ${semitones} semitones`);
}

function checkMetre(time: NonNullable<Measure["time"]>, { number }: Measure): NonNullable<Measure["time"]> {
  if (
    !Number.isInteger(time.beats) ||
    time.beats < 1 ||
    time.beats > 32 ||
    !BEAT_TYPES.includes(time.beatType)
  )
    refuse(`bar ${number}: the time signature ${time.beats}/${time.beatType} cannot be used`);
  return time;
}

function checkMeasure(measure: Measure, time: { beats: number; beatType: number }): void {
  const { number, tempo, repeatEnd, ending, key } = measure;
  if (number.length > 12)
    refuse(`the number of bar ${number.slice(0, 12)} is longer than a bar number can be`);
  if (measure.events.length > SCORE_LIMITS.eventsABar)
    refuse(
      `bar ${number} holds ${measure.events.length} notes and rests, more than ${SCORE_LIMITS.eventsABar}`,
    );
  if (key && !(Number.isInteger(key.fifths) && Math.abs(key.fifths) <= 7))
    refuse(`bar ${number}: a key signature has 0 to 7 sharps or flats`);
  if (tempo)
    checkTempo(
      (tempo.bpm * fractionToNumber(tempo.beatQuarters)) / fractionToNumber(beatOfMetre(time)),
      measure,
    );
  const times = [...(repeatEnd ? [repeatEnd.times] : []), ...(ending?.passes ?? [])];
  if (times.some((each) => !Number.isInteger(each) || each < 1 || each > SCORE_LIMITS.repeatTimes))
    refuse(`bar ${number}: a repeat is played at most ${SCORE_LIMITS.repeatTimes} times`);
  if (ending && ending.passes.length === 0) refuse(`bar ${number}: an ending does not say when it is played`);
  for (const text of [measure.words, tempo?.words, measure.rehearsal]) checkText(text, number);
}

function checkTempo(bpm: number, { number }: Measure): void {
  if (!(bpm >= SLOWEST_BPM && bpm <= FASTEST_BPM))
    refuse(
      `bar ${number}: a tempo lies between ${SLOWEST_BPM} and ${FASTEST_BPM} beats a minute; this one is ${Number(bpm.toPrecision(4))}`,
    );
}

function checkText(text: string | undefined, bar: string): void {
  if (text !== undefined && text.length > SCORE_LIMITS.text)
    refuse(`bar ${bar}: a text has more than ${SCORE_LIMITS.text} letters`);
}

function checkEvent(event: ScoreEvent, { number }: Measure, semitones: number): void {
  const [num, den] = partsOf(event.duration, number);
  if (event.grace ? num !== 0 : num <= 0) refuse(`bar ${number} holds a note without a length`);
  if (num / den > SCORE_LIMITS.longestNote || den > SCORE_LIMITS.finestNote || event.dots > 3)
    refuse(`bar ${number}: a note of ${event.duration} quarters cannot be written`);
  if (event.pitch) {
    const written = pitchToMidi(event.pitch);
    if (written < 0 || written > 127 || written + semitones < 0 || written + semitones > 127)
      refuse(`bar ${number} holds a note beyond the range of any instrument`);
  }
  if (event.tuplet) {
    const { actual, normal } = event.tuplet;
    if (![actual, normal].every((each) => Number.isInteger(each) && each >= 1 && each <= 32))
      refuse(`bar ${number}: a group of ${actual} notes in the time of ${normal} cannot be read`);
  }
  checkText(event.lyric, number);
}

/** Numerator and denominator of a length, which may come from outside. */
function partsOf(duration: Fraction, bar: string): [number, number] {
  const match = /^(\d{1,9})(?:\/([1-9]\d{0,8}))?$/.exec(duration);
  if (!match) refuse(`bar ${bar} holds a note whose length cannot be read`);
  return [Number(match[1]), Number(match[2] ?? 1)];
}

/** A bar is no longer than its metre, and its length is one that note values can say. */
function checkLength({ events, number }: Measure, time: { beats: number; beatType: number }): void {
  const exact = sumFractions(events.map((event) => event.duration));
  const plain = events.reduce((sum, event) => sum + fractionToNumber(event.duration), 0);
  const [, den] = partsOf(exact, number);
  if (Math.abs(fractionToNumber(exact) - plain) > 1e-6 || den > SCORE_LIMITS.finestNote / 7)
    refuse(`bar ${number}: its notes do not add up to a length that can be written`);
  const full = fractionToNumber(barQuarters(time));
  if (plain > full + 1e-9)
    refuse(
      `bar ${number} holds ${exact} quarter notes, more than the ${full} of ${time.beats}/${time.beatType}`,
    );
}

function checkPlayOut({ measures }: Part): void {
  let order: ReturnType<typeof playOutOrder>;
  try {
    order = playOutOrder(measures, { longest: SCORE_LIMITS.playedBars });
  } catch (error) {
    if (error instanceof RangeError) refuse(error.message.replace(/^./, (letter) => letter.toLowerCase()));
    throw error;
  }
  const played = order.reduce((sum, { measureIndex }) => sum + measures[measureIndex]!.events.length, 0);
  if (played > SCORE_LIMITS.playedNotes)
    refuse(
      `with its repeats this has ${played} notes and rests to play, more than ${SCORE_LIMITS.playedNotes}`,
    );
}

/** Octaves and substitutes name instruments that are known, and notes that can be played. */
function checkOverrides({ overrides }: Score): void {
  for (const [id, { octave, substitutes }] of Object.entries(overrides ?? {})) {
    if (!INSTRUMENTS.some((instrument) => instrument.id === id && instrument.ranges))
      refuse("something was changed for an instrument that is not known here");
    if (octave !== undefined && !(Number.isInteger(octave) && Math.abs(octave) <= 4))
      refuse("a part is moved by four octaves at most");
    if (Object.values(substitutes ?? {}).some((pitch) => pitchToMidi(pitch) < 0 || pitchToMidi(pitch) > 127))
      refuse("a substitute note lies beyond the range of any instrument");
  }
}
