import {
  type Fraction,
  fraction,
  type Measure,
  multiplyFractions,
  type ScoreEvent,
  shapeOfDuration,
} from "../score";
import { beatsIn, type Form, isCompound, slotQuarters } from "./form";

/** One notehead or rest, in slots. */
interface Piece {
  kind: "note" | "rest";
  from: number;
  length: number;
  /** Goes on from the piece before, into the piece after. */
  tieStop: boolean;
  tieStart: boolean;
}

/**
 * Writes a form as notes and rests that show the beat: what starts between beats is split at the next beat and tied, but a
 * quarter or dotted quarter after an eighth keeps its one head (eighth, quarter, eighth) where it does not hide the middle of a
 * bar of four; rests never hide a beat. Compound metres keep their dotted beats together. Ids are `prefix` and a number.
 */
export function spellForm(form: Form, prefix: string): ScoreEvent[] {
  const events = writePieces(piecesOf(form), form, prefix);
  return events.length === 1 && events[0]!.kind === "rest" ? [{ ...events[0]!, wholeMeasure: true }] : events;
}

/** Some cells of a bar from a slot on, without the rest of the bar: a piece to fill a hole with, a pickup. */
export function spellPiece(form: Form, cells: string, from: number, prefix: string): ScoreEvent[] {
  const whole = { ...form, cells: `${".".repeat(from)}${cells}`.padEnd(form.cells.length, ".") };
  const inside = piecesOf(whole).filter((piece) => piece.from >= from && piece.from < from + cells.length);
  return writePieces(inside, form, prefix);
}

function piecesOf(form: Form): Piece[] {
  return soundsOf(form).flatMap((sound) => splitAtBeats(sound, form));
}

function writePieces(pieces: readonly Piece[], form: Form, prefix: string): ScoreEvent[] {
  const slot = slotQuarters(form);
  const triplets = form.slotsPerBeat === 3 && !isCompound(form.metre);
  const events = pieces.map((piece, i): ScoreEvent => {
    const inTriplet = triplets && (piece.length % 3 !== 0 || piece.from % 3 !== 0);
    const duration = multiplyFractions(slot, fraction(piece.length));
    return {
      id: `${prefix}${i + 1}`,
      kind: piece.kind,
      duration,
      ...(inTriplet ? tripletShape(duration) : shapeOfDuration(duration)),
      ...(piece.tieStop ? { tieStop: true as const } : {}),
      ...(piece.tieStart ? { tieStart: true as const } : {}),
    };
  });
  if (triplets) markTriplets(events, pieces);
  return events;
}

/** A third of a beat is written as an eighth, two thirds as a quarter, three in the time of two. */
function tripletShape(duration: Fraction): Pick<ScoreEvent, "type" | "dots" | "tuplet"> {
  const shape = shapeOfDuration(multiplyFractions(duration, "3/2"));
  return { ...shape, tuplet: { actual: 3, normal: 2 } };
}

function markTriplets(events: ScoreEvent[], pieces: readonly Piece[]): void {
  events.forEach((event, i) => {
    if (!event.tuplet) return;
    const { from, length } = pieces[i]!;
    if (from % 3 === 0) event.tuplet.start = true;
    if ((from + length) % 3 === 0) event.tuplet.stop = true;
  });
}

/** Runs of sound and silence. */
function soundsOf({ cells }: Form): Piece[] {
  const sounds: Piece[] = [];
  [...cells].forEach((cell, slot) => {
    const last = sounds.at(-1);
    const goesOn = last && ((cell === "-" && last.kind === "note") || (cell === "." && last.kind === "rest"));
    if (goesOn) last.length++;
    else
      sounds.push({
        kind: cell === "." ? "rest" : "note",
        from: slot,
        length: 1,
        tieStop: cell === "-",
        tieStart: false,
      });
  });
  return sounds;
}

function splitAtBeats(sound: Piece, form: Form): Piece[] {
  const pieces: Piece[] = [];
  let from = sound.from;
  const end = sound.from + sound.length;
  while (from < end) {
    const length = firstLength(sound.kind, from, end - from, form);
    pieces.push({
      kind: sound.kind,
      from,
      length,
      tieStop: sound.kind === "note" && (pieces.length > 0 || sound.tieStop),
      tieStart: sound.kind === "note" && (from + length < end || sound.tieStart),
    });
    from += length;
  }
  return pieces;
}

/** Slots of the first head of what is left of a sound. */
function firstLength(kind: "note" | "rest", from: number, length: number, form: Form): number {
  const perBeat = form.slotsPerBeat;
  const compound = isCompound(form.metre);
  const inBeat = from % perBeat;
  const toBeat = perBeat - inBeat;
  if (inBeat > 0) {
    if (length <= toBeat) return inside(kind, inBeat, length, perBeat, compound);
    const onHalf = kind === "note" && !compound && 2 * inBeat === perBeat;
    if (onHalf && OFF_BEAT_HEADS.includes(length / perBeat) && !hidesMiddle(from, length, form))
      return length;
    return inside(kind, inBeat, toBeat, perBeat, compound);
  }
  const beats = Math.floor(length / perBeat);
  if (beats === 0) return inside(kind, 0, length, perBeat, compound);
  const dotted = kind === "note" && !compound && length * 2 === perBeat * 3;
  if (dotted && !hidesMiddle(from, length, form)) return length;
  return perBeat * wholeBeats(kind, from / perBeat, beats, form);
}

/** Beats of a note that begins on the half of one and keeps its one head: a quarter, a dotted quarter. */
const OFF_BEAT_HEADS = [1, 1.5];

/** Beats that one head or rest may cover from a beat on. */
function wholeBeats(kind: "note" | "rest", beat: number, beats: number, form: Form): number {
  const inBar = beatsIn(form.metre);
  const whole = beats === inBar && beat === 0;
  // Two dotted quarters make a dotted half, four a dotted whole; three have no head of their own.
  if (isCompound(form.metre)) {
    if (whole && inBar !== 3) return beats;
    return beats >= 2 && beat % 2 === 0 && !(inBar === 3 && kind === "rest") ? 2 : 1;
  }
  if (whole) return beats;
  if (kind === "rest") return beats >= 2 && inBar === 4 && beat % 2 === 0 ? 2 : 1;
  return Math.min(3, beats);
}

/** In a bar of four beats the third has to be seen. */
function hidesMiddle(from: number, length: number, form: Form): boolean {
  const middle = 2 * form.slotsPerBeat;
  return beatsIn(form.metre) === 4 && from < middle && from + length > middle;
}

/** Inside one beat every note that a value can say keeps one head; rests in a compound beat stay on its eighths. */
function inside(
  kind: "note" | "rest",
  inBeat: number,
  length: number,
  perBeat: number,
  compound: boolean,
): number {
  if (compound && perBeat === 3) return kind === "rest" && inBeat > 0 ? 1 : Math.min(2, length);
  if (compound) {
    if (kind === "rest" && inBeat % 2 === 1) return 1;
    return length === 5 ? 4 : length;
  }
  if (perBeat === 4 && kind === "rest" && length === 3) return inBeat % 2 === 1 ? 1 : 2;
  return length;
}

/** The form as a bar. */
export function barOf(form: Form, index: number): Measure {
  return { id: `m${index + 1}`, number: String(index + 1), events: spellForm(form, `b${index + 1}e`) };
}

/** What the heads of a form are like, without writing it. */
export function headsOf(form: Form): { kind: "note" | "rest"; dotted: boolean; tied: boolean }[] {
  const triplets = form.slotsPerBeat === 3 && !isCompound(form.metre);
  return piecesOf(form).map(({ kind, length, tieStart }) => ({
    kind,
    // Three of a value make a dotted one; in triplets only three whole beats do.
    dotted: isPowerOfTwo(length / (triplets ? 9 : 3)),
    tied: tieStart,
  }));
}

function isPowerOfTwo(number: number): boolean {
  return Number.isInteger(Math.log2(number));
}
