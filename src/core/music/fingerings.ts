import { checksOf } from "./acoustics";
import type { Fingering, FingeringCheck, SlideFingering, ValveFingering } from "./fingering";
import { type BrassTube, fingeringOf, type Instrument, type NoteFinding } from "./instruments";
import { midiToPitch, type Pitch, parsePitch, pitchName, pitchToMidi } from "./pitch";
import { CHARTS, readHoles } from "./woodwind-charts";

/** First choice, then alternates. */
export interface FingeringChoice {
  choices: Fingering[];
  /** What speaks for the first choice beside memory; nothing for a note that nobody and nothing has checked. */
  checkedBy: FingeringCheck[];
}

export interface FingeringOptions {
  /** Build of the instrument, an id of its `variants`; the usual one when left out. */
  variant?: string | null;
  /** What a director has set or confirmed for the instrument, by written MIDI number: it comes first and counts as verified. */
  own?: ReadonlyMap<number, Fingering>;
}

/**
 * Fingerings or positions for a written note, first choice first; null where the instrument has none or the
 * chart does not reach. Brass follows from the harmonic series and the valve table (common practice, no
 * published source); woodwind charts below are from memory and checked note by note.
 */
export function fingeringFor(
  instrument: Instrument,
  written: Pitch,
  options: FingeringOptions = {},
): FingeringChoice | null {
  const midi = pitchToMidi(written);
  const chart = chartChoice(fingeringOf(instrument, options.variant), midi);
  const own = options.own?.get(midi);
  if (!own) return chart;
  const others = (chart?.choices ?? []).filter((choice) => fingeringText(choice) !== fingeringText(own));
  return { choices: [own, ...others], checkedBy: ["director"] };
}

function chartChoice(how: NoteFinding, midi: number): FingeringChoice | null {
  if (how === "none") return null;
  if (typeof how === "string") {
    const texts = CHARTS[how][midi];
    if (!texts) return null;
    const choices = texts.map(readHoles);
    return { choices, checkedBy: checksOf(how, midi, choices[0]!) };
  }
  const choices = brassChoices(how, midi);
  return choices.length > 0 ? { choices, checkedBy: ["harmonic series"] } : null;
}

const POSITIONS = ["1st", "2nd", "3rd", "4th", "5th", "6th", "7th"];

/** Fingering as a short text: "T 123 | 12-", "1-3", "open", "4th position"; "T" before valves or a position is the thumb. */
export function fingeringText(fingering: Fingering): string {
  switch (fingering.kind) {
    case "valves":
      return `${fingering.thumb ? "T " : ""}${fingering.valves.length === 0 ? "open" : fingering.valves.join("-")}`;
    case "slide":
      return `${fingering.trigger ? "T " : ""}${POSITIONS[fingering.position - 1]} position`;
    case "holes": {
      const hand = (from: number) =>
        [0, 1, 2]
          .map((i) => ({ true: String(i + 1), false: "-", half: "½" })[String(fingering.fingers[from + i])])
          .join("");
      const head = [fingering.register ? "R" : "", fingering.thumb ? "T" : ""].filter(Boolean).join(" ");
      return [head, `${hand(0)} | ${hand(3)}`, ...fingering.extra.map((key) => `+ ${key}`)]
        .filter(Boolean)
        .join(" ");
    }
  }
}

/**
 * Reads what a director types for a note, in the form that `fingeringText` writes: "1-3" or "open" for valves, "4" or
 * "4th position" for a slide, "T 123 | 12- + E♭" for a woodwind, "½" or "h" for a half-hole.
 * @returns null when the text is no fingering of this kind of instrument
 */
export function readFingering(how: NoteFinding, text: string): Fingering | null {
  const clean = text.trim();
  if (how === "none") return null;
  if (typeof how === "string") {
    const [, head = "", left, right, extra = ""] =
      /^((?:[RT]\s+)*)([1½h-][2-][3-])\s*\|?\s*([1½h-][2-][3-])\s*((?:\+\s*[^+]{1,12})*)$/u.exec(clean) ?? [];
    if (!left || !right) return null;
    const keys = extra
      .split("+")
      .map((key) => key.trim().replace(/ /g, "_"))
      .filter(Boolean);
    return readHoles([head.trim(), (left + right).replaceAll("½", "h"), ...keys].filter(Boolean).join(" "));
  }
  const [, thumb, rest = ""] = /^(T\s*)?(.+)$/.exec(clean) ?? [];
  if (thumb && !how.thumb) return null;
  if (how.series === "slide") {
    const [, position] = /^([1-7])(?:st|nd|rd|th)?(?: position)?$/.exec(rest) ?? [];
    if (!position) return null;
    return {
      kind: "slide",
      position: Number(position),
      ...(thumb ? { trigger: true as const } : {}),
      partial: 0,
      cents: 0,
    };
  }
  const valves = /^(?:open|0)$/i.test(rest) ? [] : rest.split(/[-\s]*/).map(Number);
  const highest = how.fourthValve ? 4 : 3;
  const rising = valves.every((valve, i) => valve >= 1 && valve <= highest && valve > (valves[i - 1] ?? 0));
  if (!rising) return null;
  return { kind: "valves", valves, ...(thumb ? { thumb: true as const } : {}), partial: 0, cents: 0 };
}

/** Below this nobody asks a beginner to correct a note, cents. */
const TENDENCY_CENTS = 12;

/** From here on the slide is a long reach for a child's arm. */
const LONG_REACH = 6;

/** When the other fingering of a woodwind note is the better one; from memory of common practice. By chart and name of the note, with its octave or for all. */
const OTHER_LITTLE_FINGER = "the other little finger where the next key lies on the first one's side";
const WHEN: Partial<Record<string, Record<string, string>>> = {
  oboe: { F: "forked beside D and E♭, where the right ring finger would have to slide" },
  flute: { "B♭": "thumb B♭ in flat keys without a B natural" },
  clarinet: {
    E3: OTHER_LITTLE_FINGER,
    F3: OTHER_LITTLE_FINGER,
    "F♯3": OTHER_LITTLE_FINGER,
    B4: OTHER_LITTLE_FINGER,
    C5: OTHER_LITTLE_FINGER,
    "D♭5": OTHER_LITTLE_FINGER,
    B3: "the side key in chromatic steps",
    "F♯5": "the side key in chromatic steps",
    "F♯4": "the side key in chromatic steps",
    "E♭4": "one and one in broken chords, the side key in scales",
    "B♭5": "one and one in broken chords, the side key in scales",
    "B♭4": "with the side key it is fuller, where there is time for it",
  },
  sax: {
    "B♭": "bis in flat keys without a B natural; one and one in broken chords",
    "F♯": "the side key in chromatic steps",
    C: "the side key in trills from B",
  },
};

/**
 * When to take another fingering than the first; null where the first serves everywhere.
 * @example
 * otherwiseText(instrumentById("oboe"), parsePitch("F4")) // => "forked beside D and E♭, where the right ring finger would have to slide"
 */
export function otherwiseText(instrument: Instrument, written: Pitch): string | null {
  if (typeof instrument.fingering !== "string") return null;
  if ((fingeringFor(instrument, written)?.choices.length ?? 0) < 2) return null;
  const when = WHEN[instrument.fingering] ?? {};
  // Charts name their notes by flats, and F♯.
  const charted = midiToPitch(pitchToMidi(written));
  return when[pitchName(charted)] ?? when[pitchName(charted, false)] ?? null;
}

/** What a brass player should expect of a note, such as "runs 32 cents sharp"; null where it lies well or is no brass. */
export function tendencyText(fingering: Fingering): string | null {
  if (fingering.kind === "holes") return null;
  const runs =
    Math.abs(fingering.cents) >= TENDENCY_CENTS
      ? `runs ${Math.abs(fingering.cents)} cents ${fingering.cents > 0 ? "sharp" : "flat"}`
      : "";
  const reach =
    fingering.kind === "slide" && fingering.position >= LONG_REACH ? "a long reach for small arms" : "";
  return [runs, reach].filter(Boolean).join("; ") || null;
}

/** Valves for a fall of n semitones, first choice first: 2 = 1, 1 = 2, 1-2 = 3 (or 3), 2-3 = 4, 1-3 = 5, 1-2-3 = 6. */
const THREE_VALVES = [[[]], [[2]], [[1]], [[1, 2], [3]], [[2, 3]], [[1, 3]], [[1, 2, 3]]];
/** The fourth valve is five semitones: 4 stands for 1-3, 2-4 for 1-2-3, and more reach below. */
const FOUR_VALVES = [
  ...THREE_VALVES.slice(0, 5),
  [[4], [1, 3]],
  [
    [2, 4],
    [1, 2, 3],
  ],
  [[1, 4]],
  [[1, 2, 4]],
  [[2, 3, 4]],
  [[1, 3, 4]],
  [[1, 2, 3, 4]],
];
const SLIDE_SEMITONES = 6;
/** With the trigger the tube is a fourth longer, and so are its semitones: a fifth one would lie past the end of the slide. */
const TRIGGER_SEMITONES = 4;

/**
 * Deviation of a partial from equal temperament in cents: 1200 log2(n) against the nearest semitone.
 * From the definition of the harmonic series; the 5th is 14 flat, the 7th 31 flat.
 */
export function partialCents(partial: number): number {
  const cents = 1200 * Math.log2(partial);
  return cents - 100 * Math.round(cents / 100);
}

/**
 * How sharp a combination of valves runs, in cents. Each valve alone adds the length for its own fall (2 = 1 semitone,
 * 1 = 2, 3 = 3, 4 = 5); together they fall short, since each length was cut for the open tube:
 * fall = 1200 log2(1 + sum of (2^(semitones / 12) - 1)).
 */
export function valveCents(valves: readonly number[]): number {
  const semitones = { 1: 2, 2: 1, 3: 3, 4: 5 } as Record<number, number>;
  const nominal = valves.reduce((sum, valve) => sum + semitones[valve]!, 0);
  const length = valves.reduce((sum, valve) => sum + 2 ** (semitones[valve]! / 12) - 1, 1);
  return 100 * nominal - 1200 * Math.log2(length);
}

/** Partials that run far from the tempered note: never a first choice. */
const SPARE_PARTIALS: ReadonlySet<number> = new Set([7, 9]);

/** A partial that a tube's players avoid is avoided only where another needs no more than 2-3; 1-3 and 1-2-3 run sharper. */
const EASY_SEMITONES = 4;

/** A thumb valve without a fixed place for it is worth so many semitones of slide. */
const THUMB_COST = 3;

/** Every partial and lengthening that gives the note: far partials last, then the favoured tube, then the shortest way. */
function brassChoices(tube: BrassTube, midi: number): (ValveFingering | SlideFingering)[] {
  const thumbFirst = tube.thumb?.from ? midi >= pitchToMidi(parsePitch(tube.thumb.from)) : false;
  const fixed = tube.thumb?.from !== null;
  const cost = ({ semitones, thumb }: TubeNote) =>
    semitones + (fixed ? (thumb !== thumbFirst ? 100 : 0) : thumb ? THUMB_COST : 0);
  const notes = [
    ...tubeNotes(tube, tube, midi, false),
    ...(tube.thumb ? tubeNotes(tube, tube.thumb, midi, true) : []),
  ];
  const easy = notes.some((each) => each.spare === "never" && each.semitones <= EASY_SEMITONES);
  const avoided = ({ spare }: TubeNote) => Number(spare === "always" || (spare === "here" && easy));
  return notes.sort((a, b) => avoided(a) - avoided(b) || cost(a) - cost(b)).map(({ fingering }) => fingering);
}

interface TubeNote {
  semitones: number;
  thumb: boolean;
  /** Whether the partial is avoided: on every tube, on this one where another serves, or not. */
  spare: "always" | "here" | "never";
  fingering: ValveFingering | SlideFingering;
}

/**
 * Usable partials of the tube as a fingering lengthens it that lie strictly between two written notes: what a player
 * leaps over on the way. The 7th and 9th, which nobody aims at, do not count.
 *
 * @param midi  the written note that the fingering plays
 * @param from  the note before it
 */
export function partialsBetween(
  tube: BrassTube,
  fingering: ValveFingering | SlideFingering,
  midi: number,
  from: number,
): number {
  const thumb = fingering.kind === "valves" ? fingering.thumb : fingering.trigger;
  const open = (thumb ? tube.thumb : tube)?.openPartials ?? tube.openPartials;
  const own = open[fingering.partial];
  if (!own) return 0;
  const lowered = pitchToMidi(parsePitch(own)) - midi;
  return Object.entries(open).filter(([partial, name]) => {
    const note = pitchToMidi(parsePitch(name)) - lowered;
    return !SPARE_PARTIALS.has(Number(partial)) && note > Math.min(midi, from) && note < Math.max(midi, from);
  }).length;
}

function tubeNotes(
  tube: BrassTube,
  { openPartials, spare = [] }: Pick<BrassTube, "openPartials" | "spare">,
  midi: number,
  thumb: boolean,
): TubeNote[] {
  return Object.entries(openPartials).flatMap(([number, name]): TubeNote[] => {
    const partial = Number(number);
    const semitones = pitchToMidi(parsePitch(name)) - midi;
    if (semitones < 0) return [];
    const avoided = SPARE_PARTIALS.has(partial) ? "always" : spare.includes(partial) ? "here" : "never";
    if (tube.series === "slide") {
      if (semitones > (thumb ? TRIGGER_SEMITONES : SLIDE_SEMITONES)) return [];
      const fingering: SlideFingering = {
        kind: "slide",
        position: semitones + 1,
        ...(thumb ? { trigger: true } : {}),
        partial,
        cents: Math.round(partialCents(partial)),
      };
      return [{ semitones, thumb, spare: avoided, fingering }];
    }
    return ((tube.fourthValve ? FOUR_VALVES : THREE_VALVES)[semitones] ?? []).map((valves) => {
      const fingering: ValveFingering = {
        kind: "valves",
        valves,
        ...(thumb ? { thumb: true } : {}),
        partial,
        cents: Math.round(partialCents(partial) + valveCents(valves)),
      };
      return { semitones, thumb, spare: avoided, fingering };
    });
  });
}
