import {
  comfortableRange,
  crossesBreak,
  type Instrument,
  type Stage,
  stageRange,
  widestRange,
  writtenFor,
} from "./instruments";
import { type Pitch, parsePitch, pitchToMidi, transposePitch } from "./pitch";

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
const STAGES: readonly Stage[] = ["making-a-sound", "five-notes", "small-tunes", "widening"];

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
    transposePitch(writtenFor(instrument, parsePitch(name)), {
      letters: 7 * octaves,
      semitones: 12 * octaves,
    }),
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
  const range = stageRange(instrument, stage);
  if (!range || midis.length === 0) return 0;
  const easy = comfortableRange(instrument, stage)!;
  const [low, high] = [pitchToMidi(range.low), pitchToMidi(range.high)];
  const [easyLow, easyHigh] = [pitchToMidi(easy.low), pitchToMidi(easy.high)];
  const [wellLow, wellHigh] = instrument.tessitura!.map((name) => pitchToMidi(parsePitch(name))) as [
    number,
    number,
  ];
  const [lowest, highest] = widestRange(instrument)!;
  const home = learnedAt(instrument, "five-notes").map(pitchToMidi);
  const homeClasses = new Set(home.map((midi) => midi % 12));
  const known = question.known ?? learnedBefore(instrument, stage);
  const familiar = new Set([...home, ...known]);
  const overBreak = stage === "widening" ? 0 : midis.length;

  const answers = (octave: number): number[] => {
    const notes = midis.map((midi) => midi + 12 * octave);
    let beyond = 0;
    let cost = 0;
    let uneasy = 0;
    notes.forEach((midi, i) => {
      const hard = midi < easyLow || midi > easyHigh;
      if (midi < wellLow || midi > wellHigh) uneasy += 1;
      if (midi < lowest || midi > highest) beyond += 1;
      if (!familiar.has(midi))
        cost += 1 + (hard ? COST.uneasy : 0) + (homeClasses.has(midi % 12) ? COST.flipped : 0);
      if (midi < low || midi > high) cost += COST.outside;
      if (isOverBreak(instrument, midi)) cost += overBreak;
      if (i > 0 && crossesBreak(instrument, notes[i - 1]!, midi)) cost += COST.crossing;
    });
    const middle = (Math.min(...notes) + Math.max(...notes)) / 2;
    return [beyond, cost, uneasy, Math.abs(middle - (wellLow + wellHigh) / 2)];
  };
  return (question.octaves ?? ANY_OCTAVE)
    .map((octave) => ({ octave, worth: answers(octave) }))
    .reduce((best, each) => (isLess(each.worth, best.worth) ? each : best)).octave;
}

function isOverBreak(instrument: Instrument, midi: number): boolean {
  return crossesBreak(instrument, 0, midi);
}

function isLess(a: readonly number[], b: readonly number[]): boolean {
  const at = a.findIndex((value, i) => Math.abs(value - b[i]!) > 1e-9);
  return at >= 0 && a[at]! < b[at]!;
}
