import { type Pitch, pitchToMidi, transposePitch } from "../music";
import type { Fraction } from "../score";
import type { Direction, Families, Tonguing } from "./block";
import {
  concertPitch,
  degreePitch,
  evened,
  fifthsOn,
  filled,
  inWays,
  note,
  type Plain,
  repeatNotes,
  rest,
  slurredByBars,
} from "./notes";
import type { Plan, Segment } from "./segment";

type ScaleSettings = Families["scales"];

const FIVE_NOTES = [1, 2, 3, 4, 5];
const OCTAVE = [1, 2, 3, 4, 5, 6, 7, 8];
const TWO_OCTAVES = Array.from({ length: 15 }, (_, i) => i + 1);
/** Inside the octave: 1-3, 2-4 ... 6-8. */
const THIRDS = [1, 2, 3, 4, 5, 6].flatMap((degree) => [degree, degree + 2]);
/** From the top note down: 8-7, 8-6 ... 8-1 (common practice, no published source). */
const FALLING_INTERVALS = [7, 6, 5, 4, 3, 2, 1].flatMap((degree) => [8, degree]);

const PATTERN_WORDS: Record<ScaleSettings["pattern"], string> = {
  major: "",
  "five-note": "five notes",
  thirds: "in thirds",
  "1-5-1": "1-5-1",
  "falling-intervals": "8-7 to 8-1",
};

/**
 * Major scales and their patterns, one key after another. A player whose range does not hold two octaves plays one twice,
 * a beginner the first five notes, all in the same number of counts.
 */
export function scalePlan(settings: ScaleSettings): Plan {
  const words = PATTERN_WORDS[settings.pattern];
  return {
    segments: settings.keys.map((fifths): Segment => {
      const forms = evened(formsIn(fifths, settings)).map((form) =>
        repeatNotes([...inEveryWay(form, settings.tonguing), ...rest(settings.countsOff)], settings.repeats),
      );
      return { fifths, forms: evened(forms), ...(words ? { words } : {}) };
    }),
  };
}

function inEveryWay(notes: Plain[], tonguing: Tonguing): Plain[] {
  return inWays(notes, tonguing, slurredByBars).flat();
}

/** The forms of a pattern, the fullest first. */
function formsIn(fifths: number, { pattern, octaves, rhythm, direction }: ScaleSettings): Plain[][] {
  const make = (degrees: number[]) =>
    filled(
      inRhythm(
        degrees.map((degree) => degreePitch(fifths, degree)),
        rhythm,
      ),
    );
  if (pattern === "1-5-1") return [oneFiveOne((degree) => degreePitch(fifths, degree))];
  if (pattern === "falling-intervals") return [make(FALLING_INTERVALS)];
  if (pattern === "thirds") return [make(turned(THIRDS, direction, true))];
  const five = make(turned(FIVE_NOTES, direction));
  if (pattern === "five-note") return [five];
  const one = make(turned(OCTAVE, direction));
  if (octaves === 1) return [one, five];
  const two = make(turned(TWO_OCTAVES, direction));
  return [two, repeatNotes(one, 2), repeatNotes(five, 2)];
}

/** Up, down, or up and back; the turning note stands once, unless the way back is a mirror. */
function turned(up: number[], direction: Direction, mirrored = false): number[] {
  const down = up.toReversed();
  if (direction === "up") return up;
  if (direction === "down") return down;
  return [...up, ...(mirrored ? down : down.slice(1))];
}

function inRhythm(pitches: Pitch[], rhythm: ScaleSettings["rhythm"]): Plain[] {
  const values: Record<ScaleSettings["rhythm"], Fraction[]> = {
    half: ["2"],
    quarter: ["1"],
    eighth: ["1/2"],
    "quarter-and-eighth": ["1", "1/2", "1/2"],
  };
  const pattern = values[rhythm];
  return pitches.map((pitch, i) => note(pitch, pattern[i % pattern.length]!));
}

function oneFiveOne(degree: (degree: number) => Pitch): Plain[] {
  return [note(degree(1), "2"), note(degree(5), "2"), note(degree(1), "4")];
}

/** One pattern a semitone further each time; a player rests from the first step on that leaves the range. */
export function halfStepPlan(settings: Families["half-step-cycle"]): Plan {
  const start = pitchToMidi(concertPitch(settings.from));
  const segments = Array.from({ length: settings.steps }, (_, step): Segment => {
    const tonic = start + (settings.direction === "up" ? step : -step);
    const fifths = fifthsOn(tonic);
    const degree = degreesOn(tonic, fifths);
    const notes =
      settings.pattern === "1-5-1"
        ? oneFiveOne(degree)
        : filled(FALLING_INTERVALS.map((each) => note(degree(each), "1")));
    return { fifths, forms: [[...inEveryWay(notes, settings.tonguing), ...rest(settings.countsOff)]] };
  });
  return { segments, cycle: true };
}

/** The scale on a tonic given as a MIDI number, in its own octave. */
function degreesOn(tonic: number, fifths: number): (degree: number) => Pitch {
  const octaves = Math.round((tonic - pitchToMidi(degreePitch(fifths, 1))) / 12);
  return (degree) =>
    transposePitch(degreePitch(fifths, degree), { letters: 7 * octaves, semitones: 12 * octaves });
}
