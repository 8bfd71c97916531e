import { octavesUp, type Pitch, pitchToMidi, transposePitch } from "../music";
import { addFractions, type Fraction, fractionToNumber } from "../score";
import type { Direction, Families, Tonguing } from "./block";
import {
  concertPitch,
  degreePitch,
  fifthsOn,
  filled,
  folded,
  inWays,
  lengthOf,
  note,
  type Plain,
  repeatNotes,
  rest,
  slurredByBars,
} from "./notes";
import type { Plan, Segment } from "./segment";

type ScaleSettings = Families["scales"];

const OCTAVE = [1, 2, 3, 4, 5, 6, 7, 8];
const TWO_OCTAVES = Array.from({ length: 15 }, (_, i) => i + 1);
/** Inside the octave: 1-3, 2-4 ... 6-8. On the way down the last third gives way to the tonic, which so falls on the beat. */
const THIRDS_UP = [1, 3, 2, 4, 3, 5, 4, 6, 5, 7, 6, 8];
const THIRDS_DOWN = [8, 6, 7, 5, 6, 4, 5, 3, 4, 2, 1];
const THIRDS: Record<Direction, readonly number[]> = {
  up: [...THIRDS_UP.slice(0, -2), 8],
  down: THIRDS_DOWN,
  "up-and-down": [...THIRDS_UP, ...THIRDS_DOWN],
};
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
 * Major scales and their patterns, one key after another, for everybody at once. A player whose range does not hold all of
 * the notes plays those it holds in the same moments as the others, an octave lower where that is reached without a leap,
 * and rests until the others come back: so every moment is a unison or an octave.
 */
export function scalePlan(settings: ScaleSettings): Plan {
  const words = PATTERN_WORDS[settings.pattern];
  return {
    segments: settings.keys.map((fifths): Segment => {
      const forms = formsIn(fifths, settings).map((form) =>
        repeatNotes([...inEveryWay(form, settings.tonguing), ...rest(settings.countsOff)], settings.repeats),
      );
      return { fifths, forms: forms as Segment["forms"], ...(words ? { words } : {}) };
    }),
  };
}

function inEveryWay(notes: Plain[], tonguing: Tonguing): Plain[] {
  return inWays(notes, tonguing, slurredByBars).flat();
}

/** The forms of a pattern, the fullest first. */
function formsIn(fifths: number, { pattern, octaves, rhythm, direction }: ScaleSettings): Plain[][] {
  const make = (degrees: readonly (number | null)[]) =>
    filled(
      inRhythm(
        degrees.map((degree) => (degree === null ? null : degreePitch(fifths, degree))),
        rhythm,
      ),
    );
  if (pattern === "1-5-1") return [oneFiveOne((degree) => degreePitch(fifths, degree))];
  if (pattern === "falling-intervals") return [make(FALLING_INTERVALS)];
  if (pattern === "thirds") return [make(THIRDS[direction])];
  if (pattern === "five-note") return [make(turned(OCTAVE.slice(0, 5), direction))];
  const degrees = turned(octaves === 1 ? OCTAVE : TWO_OCTAVES, direction);
  return (octaves === 1 ? [8, 5] : [15, 8, 5]).map((reach) => make(folded(degrees, reach, 7)));
}

/** Up, down, or up and back; the turning note stands once. */
function turned(up: number[], direction: Direction): number[] {
  const down = up.toReversed();
  if (direction === "up") return up;
  if (direction === "down") return down;
  return [...up, ...down.slice(1)];
}

/** Values one after another; the note before the last is lengthened where the last would fall between two counts. */
function inRhythm(pitches: (Pitch | null)[], rhythm: ScaleSettings["rhythm"]): Plain[] {
  const values: Record<ScaleSettings["rhythm"], Fraction[]> = {
    half: ["2"],
    quarter: ["1"],
    eighth: ["1/2"],
    "quarter-and-eighth": ["1", "1/2", "1/2"],
  };
  const pattern = values[rhythm];
  const notes = pitches.map((pitch, i): Plain => {
    const duration = pattern[i % pattern.length]!;
    return pitch ? note(pitch, duration) : { kind: "rest", duration };
  });
  const before = lengthOf(notes.slice(0, -1));
  const late = fractionToNumber(before) % 1 > 0;
  return notes.map((each, i) =>
    late && i === notes.length - 2 ? { ...each, duration: addFractions(each.duration, "1/2") } : each,
  );
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
  return (degree) => transposePitch(degreePitch(fifths, degree), octavesUp(octaves));
}
