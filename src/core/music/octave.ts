import {
  comfortableRange,
  crossesBreak,
  type Instrument,
  midisOf,
  STAGES,
  type Stage,
  stageRange,
  widestRange,
  writtenFor,
} from "./instruments";
import { octavesUp, type Pitch, parsePitch, pitchToMidi, transposePitch } from "./pitch";

/**
 * The octave memory of an instrument.
 *
 * A beginner learns the first five notes in one octave and keeps them there. `ranges.fiveNotes` of the catalogue begins
 * with the written note of concert B♭; the notes of later stages continue from it, up and down.
 *
 * The octave of a passage is chosen by four questions, each asked only where the one before is a draw:
 * 1. Fewest notes beyond the instrument, which is its range at the end of the second year.
 * 2. Knowledge, range and comfort together, note by note as they are played: a note that this player has not learned in
 *    this octave costs one; one more where it is one of the first five in another octave; one more outside what is
 *    comfortable at the stage; two more outside the range of the stage. So a passage on learned notes never flips for the
 *    sake of one note beyond the range, and one of which little is learned does not go where it cannot be played. Clarinets
 *    pay four for every step over the break, and before the widening stage a note above it costs as much as all notes
 *    together: any other octave is better.
 * 3. Tessitura: fewest notes, learned or not, outside the span where the instrument sounds well without effort.
 * 4. The shape of the phrase: its middle nearest the middle of that span.
 */

/** Concert notes in the order in which most first books bring them (common practice, no published source). */
const FIRST_NOTES: Record<Stage, readonly string[]> = {
  "making-a-sound": [],
  "five-notes": ["Bb3", "C4", "D4", "Eb4", "F4"],
  "small-tunes": ["G4", "A3", "Ab4"],
  widening: [],
};

/** Octaves a concert note from B♭3 to F4 is moved for an instrument, beyond its transposition, to be where it is learned. */
function homeShift(instrument: Instrument): number {
  const learned = pitchToMidi(parsePitch(instrument.ranges!.fiveNotes[0]));
  return Math.round((learned - pitchToMidi(writtenFor(instrument, parsePitch("Bb3")))) / 12);
}

/**
 * Written notes that a stage brings to an instrument, in its own octave: the five notes, then G and A♭ above and A below
 * (concert). A clarinet meets none of them above the break.
 * @example
 * learnedAt(instrumentById("trumpet"), "five-notes").map((pitch) => pitchName(pitch)) // => ["C4", "D4", "E4", "F4", "G4"]
 */
export function learnedAt(instrument: Instrument, stage: Stage): Pitch[] {
  if (!instrument.ranges) return [];
  const octaves = homeShift(instrument);
  return FIRST_NOTES[stage].map((name) =>
    transposePitch(writtenFor(instrument, parsePitch(name)), octavesUp(octaves)),
  );
}

/** Written MIDI numbers of all that an instrument has learned before a stage begins. Drums that are tuned have no note to learn. */
export function learnedBefore(instrument: Instrument, stage: Stage): Set<number> {
  if (instrument.drums) {
    const [low, high] = widestRange(instrument)!;
    return new Set(Array.from({ length: high - low + 1 }, (_, i) => low + i));
  }
  return new Set(
    STAGES.slice(0, STAGES.indexOf(stage)).flatMap((each) => learnedAt(instrument, each).map(pitchToMidi)),
  );
}

/**
 * Where an instrument learns one note: in the octave of the first books, else where it is most at home.
 * @param pitchClass  as it sounds, C is 0
 * @returns its written MIDI number
 * @example
 * // Concert A♭ is the clarinet's throat B♭, concert B♭ its C4.
 * [8, 10].map((pitchClass) => homeOf(instrumentById("clarinet"), pitchClass)) // => [70, 60]
 */
export function homeOf(instrument: Instrument, pitchClass: number): number {
  const written = 60 + pitchClass - instrument.soundsBy.semitones;
  const learned = STAGES.flatMap((stage) => learnedAt(instrument, stage).map(pitchToMidi)).find(
    (midi) => (midi - written) % 12 === 0,
  );
  return learned ?? written + 12 * chooseOctave([written], { instrument, stage: "widening" });
}

export interface OctaveQuestion {
  instrument: Instrument;
  stage: Stage;
  /** Written MIDI numbers the player knows; what the stages before have brought when left out. */
  known?: ReadonlySet<number> | undefined;
  /** Octaves that may be chosen; four up and four down when left out. */
  octaves?: readonly number[];
}

const ANY_OCTAVE = [0, -1, 1, -2, 2, -3, 3, -4, 4];

/** What a note costs beyond being strange: one of the first five in another octave, outside what is comfortable, outside the range; and a step over the break. */
const COST = { flipped: 1, uneasy: 1, outside: 2, crossing: 4 } as const;

/**
 * Octaves a passage is moved for an instrument, by the rule at the head of this file: one number for the whole passage.
 *
 * @param midis  written notes in the octave of the plain transposition, in playing order
 * @returns whole octaves, 0 for a passage without notes or an instrument without pitch
 * @example
 * // Concert B♭4 to F5 as a tuba would read it three octaves too high.
 * chooseOctave([70, 72, 74, 75, 77], { instrument: instrumentById("tuba"), stage: "five-notes" }) // => -3
 */
export function chooseOctave(midis: readonly number[], question: OctaveQuestion): number {
  const { instrument, stage } = question;
  const place = placeOf(instrument, stage);
  if (!place || midis.length === 0) return 0;
  const known = question.known ?? place.learned;
  const [bottom, top] = midis.reduce(
    ([low, high], midi) => [Math.min(low, midi), Math.max(high, midi)],
    [midis[0]!, midis[0]!],
  );
  const allowed = question.octaves ?? ANY_OCTAVE;
  // An octave in which no note at all lies on the instrument is asked only when there is no other.
  const [lowest, highest] = place.widest;
  const near = allowed.filter((octave) => bottom + 12 * octave <= highest && top + 12 * octave >= lowest);
  let best = { octave: 0, worth: [Number.POSITIVE_INFINITY] };
  for (const octave of near.length > 0 ? near : allowed) {
    const worth = worthOf(midis, octave, place, known, instrument, (bottom + top) / 2);
    if (isLess(worth, best.worth)) best = { octave, worth };
  }
  return best.octave;
}

/** What is true of every passage of an instrument at a stage, as MIDI numbers. */
interface Place {
  range: [low: number, high: number];
  easy: [low: number, high: number];
  well: [low: number, high: number];
  widest: [low: number, high: number];
  home: ReadonlySet<number>;
  homeClasses: ReadonlySet<number>;
  learned: ReadonlySet<number>;
  /** Notes above the break are out of the question. */
  underBreak: boolean;
}

/** A shelf asks thousands of lines for dozens of players: what does not depend on the passage is worked out once. */
const places = new Map<string, Place | null>();

function placeOf(instrument: Instrument, stage: Stage): Place | null {
  const key = `${instrument.id}/${stage}`;
  const known = places.get(key);
  if (known !== undefined) return known;
  const span = (ends: { low: Pitch; high: Pitch }): [number, number] => [
    pitchToMidi(ends.low),
    pitchToMidi(ends.high),
  ];
  const range = stageRange(instrument, stage);
  const home = learnedAt(instrument, "five-notes").map(pitchToMidi);
  const place = range && {
    range: span(range),
    easy: span(comfortableRange(instrument, stage)!),
    well: midisOf(instrument.tessitura!),
    widest: widestRange(instrument)!,
    home: new Set(home),
    homeClasses: new Set(home.map((midi) => midi % 12)),
    learned: learnedBefore(instrument, stage),
    underBreak: stage !== "widening",
  };
  places.set(key, place);
  return place;
}

/** The answers to the four questions for one octave, the smaller the better. */
function worthOf(
  midis: readonly number[],
  octave: number,
  place: Place,
  known: ReadonlySet<number>,
  instrument: Instrument,
  middle: number,
): number[] {
  const { range, easy, well, widest } = place;
  const outside = (midi: number, [low, high]: [number, number]) => midi < low || midi > high;
  const shift = 12 * octave;
  let beyond = 0;
  let cost = 0;
  let uneasy = 0;
  midis.forEach((written, i) => {
    const midi = written + shift;
    if (outside(midi, well)) uneasy += 1;
    if (outside(midi, widest)) beyond += 1;
    if (!place.home.has(midi) && !known.has(midi))
      cost +=
        1 + (outside(midi, easy) ? COST.uneasy : 0) + (place.homeClasses.has(midi % 12) ? COST.flipped : 0);
    if (outside(midi, range)) cost += COST.outside;
    if (place.underBreak && isOverBreak(instrument, midi)) cost += midis.length;
    if (i > 0 && crossesBreak(instrument, midis[i - 1]! + shift, midi)) cost += COST.crossing;
  });
  return [beyond, cost, uneasy, Math.abs(middle + shift - (well[0] + well[1]) / 2)];
}

function isOverBreak(instrument: Instrument, midi: number): boolean {
  return crossesBreak(instrument, 0, midi);
}

function isLess(a: readonly number[], b: readonly number[]): boolean {
  const at = a.findIndex((value, i) => Math.abs(value - b[i]!) > 1e-9);
  return at >= 0 && a[at]! < b[at]!;
}
