import {
  type BrassTube,
  type Fingering,
  fingeringFor,
  fingeringOf,
  type Instrument,
  isBlown,
  learnedAt,
  midiToPitch,
  type Pitch,
  parsePitch,
  pitchToMidi,
  type SlideFingering,
  stageRange,
  transposePitch,
  type ValveFingering,
  widestRange,
} from "../music";
import { fractionToNumber, type Measure, type ScoreEvent } from "../score";
import type { Families, Value } from "./block";
import { asStrokes, note, quartersOf, repeatNotes, rest, slurred } from "./notes";
import { cueText, inBars, type Laid, numbered, type PlayerKind, restInstead, restsOnly } from "./segment";

type SlurSettings = Families["slurs"];

/** The band's pair in the first step, as pitch classes: from F to B♭ below, or back up. */
const UPPER = 5;
const LOWER = 10;
/** Counts of a row: one value fills two bars. */
const ROW_COUNTS = 8;

/** Two written notes that are slurred, and how. */
export interface SlurPair {
  first: Pitch;
  second: Pitch;
  /** What moves: lips on one fingering, an added key, or plainly the fingers. */
  by: "lips" | "register key" | "octave" | "fingers";
  /** The one fingering of a brass pair, with the partial of either note. */
  fingerings: [Fingering, Fingering] | null;
}

/**
 * The pairs of one kind of player, a semitone lower each step. Every pair sounds with the band's F and B♭ (moved down
 * alike) at both moments: brass F to B♭, clarinets the twelfth from B♭ to F, flutes, oboes, bassoons and saxes an octave on
 * either note. Where a way does not fit the stage the fingers slur B♭ to F. Steps beyond the range are null.
 *
 * Facts (F to B♭ against the clarinet's C4 to G5, seven valve combinations or positions): common practice, no published
 * source.
 */
export function slurPairs(settings: SlurSettings, player: PlayerKind): (SlurPair | null)[] {
  const tiers = waysOf(player).map((ways) => ways.map((way) => runOf(way, settings.steps)));
  const tier = tiers.find((runs) => runs.some((run) => run.length > 0)) ?? [[]];
  const longest = tier.reduce((a, b) => (b.length > a.length ? b : a));
  return Array.from({ length: settings.steps }, (_, step) => {
    const pair = longest[step];
    return pair ? (settings.direction === "down" ? pair : turnedRound(pair)) : null;
  });
}

/** The pairs from the first step on, until one does not fit. */
function runOf(way: Way, steps: number): SlurPair[] {
  const pairs: SlurPair[] = [];
  for (let step = 0; step < steps; step++) {
    const pair = way(step);
    if (!pair) break;
    pairs.push(pair);
  }
  return pairs;
}

function turnedRound(pair: SlurPair): SlurPair {
  return {
    ...pair,
    first: pair.second,
    second: pair.first,
    fingerings: pair.fingerings && [pair.fingerings[1], pair.fingerings[0]],
  };
}

type Way = (step: number) => SlurPair | null;

/** Ways of slurring, the preferred ones first; within a tier the one that lasts longest is taken. */
function waysOf(player: PlayerKind): Way[][] {
  const { instrument, stage, variant } = player;
  const range = stageRange(instrument, stage);
  if (!range) return [];
  const [low, high] = [pitchToMidi(range.low), pitchToMidi(range.high)];
  const how = fingeringOf(instrument, variant);
  const sounds = instrument.soundsBy.semitones;
  if (typeof how === "object") {
    // Downwards nothing is forced: the longest fingering may lie a semitone under the two years' range.
    const inReach = (midi: number) => midi <= high && midi >= lowestOf(instrument) - 1;
    return [[lipFifth(how, sounds, inReach)], [lipOctave(how, sounds, inReach)]];
  }
  const fits = (midi: number) => midi >= low && midi <= high;
  const home = pitchToMidi(learnedAt(instrument, "five-notes")[0]!);
  const held = (from: number, up: number, by: SlurPair["by"]) =>
    startsOf(from - sounds, home).map(
      (start) => (step: number) => heldPair(player, start - step, up, by, fits),
    );
  const fingers = held(LOWER, 7, "fingers");
  if (instrument.family === "clarinets") return [held(LOWER, 19, "register key"), fingers];
  if (how === "none") return [fingers];
  return [[...held(LOWER, 12, "octave"), ...held(UPPER, 12, "octave")], fingers];
}

function lowestOf(instrument: Instrument): number {
  return widestRange(instrument)![0];
}

/** Every octave of a pitch class from which a row of pairs could begin, the one nearest to the learned notes first. */
function startsOf(midi: number, home: number): number[] {
  return Array.from({ length: 8 }, (_, octave) => pitchClass(midi) + 12 * (octave + 2)).sort(
    (a, b) => Math.abs(a - home) - Math.abs(b - home),
  );
}

/** A low note and the one above it with the same fingers and one key, half-hole or faster air; or with plain fingers. */
function heldPair(
  { instrument }: PlayerKind,
  low: number,
  up: number,
  by: SlurPair["by"],
  fits: (midi: number) => boolean,
): SlurPair | null {
  if (!fits(low) || !fits(low + up)) return null;
  const lower = midiToPitch(low);
  const upper = transposePitch(lower, { letters: LETTERS_OF[up]!, semitones: up });
  if (by === "fingers") return { first: upper, second: lower, by, fingerings: null };
  return sameFingers(instrument, lower, upper) ? { first: lower, second: upper, by, fingerings: null } : null;
}

/** Staff steps of the intervals that are slurred: fourth, fifth, octave, twelfth. */
const LETTERS_OF: Record<number, number> = { 5: 3, 7: 4, 12: 7, 19: 11 };

/** At most one of the six main fingers moves: an octave or register key, a half-hole, the flute's left index. */
function sameFingers(instrument: Instrument, lower: Pitch, upper: Pitch): boolean {
  const [a, b] = [lower, upper].map((pitch) => fingeringFor(instrument, pitch)?.choices[0]);
  if (a?.kind !== "holes" || b?.kind !== "holes") return false;
  return a.fingers.filter((finger, i) => finger !== b.fingers[i]).length <= 1;
}

/** Two partials of one length of tube that sound F and B♭: a fifth down, or a fourth up. */
function lipFifth(tube: BrassTube, sounds: number, inReach: (midi: number) => boolean): Way {
  return onOneLength(
    tube,
    (first, second, step) =>
      inReach(first) &&
      inReach(second) &&
      Math.abs(first - second) <= 7 &&
      pitchClass(first + sounds) === pitchClass(UPPER - step) &&
      pitchClass(second + sounds) === pitchClass(LOWER - step),
  );
}

/** An octave on F, for tubes whose partials hold no F with a B♭ (a single horn in F). */
function lipOctave(tube: BrassTube, sounds: number, inReach: (midi: number) => boolean): Way {
  return onOneLength(
    tube,
    (first, second, step) =>
      inReach(first) &&
      inReach(second) &&
      first - second === 12 &&
      pitchClass(first + sounds) === pitchClass(UPPER - step),
  );
}

/**
 * Pairs of partials on one length of tube. The step is the length: open, 2, 1, 1-2, 2-3, 1-3, 1-2-3, or positions 1 to 7.
 * The plain tube comes before a thumb valve or trigger, low partials before high ones, where the lips are at ease.
 */
function onOneLength(tube: BrassTube, wanted: (first: number, second: number, step: number) => boolean): Way {
  const tubes = [
    { open: tube.openPartials, thumb: false },
    ...(tube.thumb ? [{ open: tube.thumb.openPartials, thumb: true }] : []),
  ];
  return (step) => {
    const lengthening = lengths(tube)[step];
    if (!lengthening) return null;
    for (const { open, thumb } of tubes) {
      const partials = Object.entries(open)
        .map(([partial, name]) => ({ partial: Number(partial), midi: pitchToMidi(parsePitch(name)) - step }))
        .filter(({ partial }) => partial !== 7 && partial !== 9);
      for (const second of partials)
        for (const first of partials) {
          if (first === second || !wanted(first.midi, second.midi, step)) continue;
          const up = second.midi - first.midi;
          const start = midiToPitch(first.midi);
          return {
            first: start,
            second: transposePitch(start, {
              letters: Math.sign(up) * LETTERS_OF[Math.abs(up)]!,
              semitones: up,
            }),
            by: "lips",
            fingerings: [first, second].map(({ partial }) => ({
              ...lengthening,
              partial,
              ...(thumb ? thumbOf(lengthening) : {}),
            })) as [Fingering, Fingering],
          };
        }
    }
    return null;
  };
}

function thumbOf(lengthening: ValveFingering | SlideFingering) {
  return lengthening.kind === "valves" ? { thumb: true as const } : { trigger: true as const };
}

/** The usual lengthening by 0 to 6 semitones. */
function lengths(tube: BrassTube): (ValveFingering | SlideFingering)[] {
  if (tube.series === "slide")
    return Array.from({ length: 7 }, (_, i) => ({ kind: "slide", position: i + 1, partial: 0, cents: 0 }));
  return [[], [2], [1], [1, 2], [2, 3], [1, 3], [1, 2, 3]].map((valves) => ({
    kind: "valves",
    valves,
    partial: 0,
    cents: 0,
  }));
}

function pitchClass(midi: number): number {
  return ((midi % 12) + 12) % 12;
}

const WAY_WORDS: Record<SlurPair["by"], string> = {
  lips: "lips and air only",
  "register key": "add the register key",
  octave: "octave: keys, lips and faster air",
  fingers: "even fingers, one breath",
};
const HAND_WORDS = "even hands, close together";

/** Where a head of the prepared bars belongs: its step, and whether it is the pair's second note. */
type Place = { step: number; second: boolean };

/**
 * Prepares whole, half and quarter notes on each pair, then a rest, and gives each kind of player its own pairs in them.
 * The bars are laid once: from player to player only pitches differ, and steps that rest.
 */
export function laySlurs(
  settings: SlurSettings,
): (player: PlayerKind) => Laid & { cues: ReadonlyMap<string, string> } {
  const anyPitch = parsePitch("C4");
  const step = [
    ...settings.values.flatMap((value) =>
      slurred(Array.from({ length: rowNotes(value) }, () => note(anyPitch, quartersOf(value)))),
    ),
    ...rest(settings.countsOff),
  ];
  const notes = repeatNotes(step, settings.steps);
  const bars = numbered(inBars(notes, "s1", null));
  const strokes = numbered(inBars(asStrokes(notes), "s1", null));
  const heads = settings.values.flatMap((value) =>
    Array.from({ length: rowNotes(value) }, (_, i) => i % 2 === 1),
  );
  const places = new Map<string, Place>();
  for (let at = 0; at < settings.steps; at++)
    for (const [i, second] of heads.entries())
      places.set(`s1n${at * step.length + i + 1}`, { step: at, second });
  return (player) =>
    stageRange(player.instrument, player.stage) && !player.instrument.drums
      ? pairsIn(bars, places, slurPairs(settings, player), player)
      : {
          measures: strokes,
          clef: "percussion",
          soundsBy: { letters: 0, semitones: 0 },
          cutShort: null,
          cues: new Map(),
        };
}

function pairsIn(
  bars: readonly Measure[],
  places: ReadonlyMap<string, Place>,
  pairs: readonly (SlurPair | null)[],
  { instrument }: PlayerKind,
): Laid & { cues: ReadonlyMap<string, string> } {
  const cues = new Map<string, string>();
  const own = (event: ScoreEvent): ScoreEvent => {
    const place = places.get(event.id);
    if (!place) return event;
    const pair = pairs[place.step];
    if (!pair) return restInstead(event);
    if (pair.fingerings) cues.set(event.id, cueText(pair.fingerings[0]));
    return { ...event, pitch: place.second ? pair.second : pair.first };
  };
  const measures = bars.map((bar) => {
    const events = bar.events.map(own);
    return events.every((event) => event.kind === "rest") ? restsOnly(bar) : { ...bar, events };
  });
  const played = pairs.filter(Boolean).length;
  const way = pairs[0]?.by;
  const words = way && (isBlown(instrument) ? WAY_WORDS[way] : HAND_WORDS);
  return {
    measures: words ? [{ ...measures[0]!, words }, ...measures.slice(1)] : measures,
    clef: instrument.clef,
    soundsBy: instrument.soundsBy,
    cutShort: played < pairs.length ? { kind: "slurs", played, of: pairs.length } : null,
    cues,
  };
}

function rowNotes(value: Value): number {
  return ROW_COUNTS / fractionToNumber(quartersOf(value));
}
