import {
  chooseOctave,
  drumUnder,
  fingeringFor,
  type Instrument,
  midiToPitch,
  type Pitch,
  pitchName,
  pitchToMidi,
  type Range,
  type Stage,
  spellMidi,
  stageRange,
  tuneDrums,
  writtenInterval,
} from "../music";
import {
  derivePart,
  type Fraction,
  fractionToNumber,
  layInBars,
  type Measure,
  type NoteType,
  type Part,
  QUARTERS_OF_TYPE,
  type ScoreEvent,
} from "../score";
import { asStrokes, degreePitch, lengthOf, midiOf, type Plain, rest } from "./notes";

/** Who a block is made for. */
export interface PlayerKind {
  instrument: Instrument;
  stage: Stage;
  /** Build of the instrument; the usual one when left out. */
  variant?: string | null;
}

/** A stretch of a block that is written in one key and keeps one octave. */
export interface Segment {
  /**
   * Concert signature; without one every accidental stands at its note, spelled as on charts, or sharp upwards and flat
   * downwards.
   */
  fifths: number | "as-on-charts" | "by-direction";
  /**
   * Concert notes, all forms equally long and sounding well together at every moment; the first form that lies wholly in a
   * player's range is taken, else the last, with rests for what lies outside. Drums play the first.
   */
  forms: [Plain[], ...Plain[][]];
  /** Octaves of the concert notes in which the stretch may sound, where its place among the voices matters. */
  octaves?: readonly number[];
  words?: string | ((instrument: Instrument) => string);
}

/** Segments in playing order. A cycle moves in steps from its first segment on, so one octave serves them all. */
export interface Plan {
  segments: Segment[];
  cycle?: true;
}

export interface Laid {
  measures: Measure[];
  clef: Part["clef"];
  soundsBy: Part["soundsBy"];
  /** What a player of this kind does not play; null when everything is there. */
  cutShort: CutShort | null;
}

/** Why a part is not whole: the range of the stage, or of the instrument's first two years, ends first. */
export type CutShort =
  /** The first steps of a cycle are played, then nothing. */
  | { kind: "cycle"; played: number; of: number }
  /** Single notes are rests; written names, lowest first. */
  | { kind: "notes"; names: string[] }
  /** Steps beyond one end of the instrument are rests. */
  | { kind: "beyond"; missing: number; of: number; end: "top" | "bottom" }
  /** So many of the slurs asked for exist in the range. */
  | { kind: "slurs"; played: number; of: number };

const METRE = { beats: 4, beatType: 4 };
const CONCERT = { letters: 0, semitones: 0 };

/**
 * Prepares a plan in concert pitch once and gives each kind of player the written part: own key, octave and clef.
 * @returns a function from a kind of player to its bars; every kind gets bars of the same lengths
 */
export function layPlan(plan: Plan): (player: PlayerKind) => Laid {
  const bars = new Map<string, Measure[]>();
  const laid = (segment: number, form: number, strokes: boolean): Measure[] => {
    const key = `${segment}/${form}/${strokes}`;
    const known = bars.get(key);
    if (known) return known;
    const { fifths, forms } = plan.segments[segment]!;
    const notes = strokes ? asStrokes(forms[form]!) : forms[form]!;
    const made = inBars(notes, `s${segment + 1}`, typeof fifths === "number" ? fifths : null);
    bars.set(key, made);
    return made;
  };
  const worded = (measures: Measure[], { words }: Segment, instrument: Instrument): Measure[] => {
    const text = typeof words === "function" ? words(instrument) : words;
    return text ? [{ ...measures[0]!, words: text }, ...measures.slice(1)] : measures;
  };
  const midis = plan.segments.map((segment) => segment.forms.map((form) => form.flatMap(midiOrNone)));

  return ({ instrument, stage }) => {
    const range = stageRange(instrument, stage);
    const about = { clef: instrument.clef, soundsBy: instrument.soundsBy };
    if (!range)
      return {
        measures: numbered(
          plan.segments.flatMap((segment, i) => worded(laid(i, 0, true).map(unkeyed), segment, instrument)),
        ),
        clef: "percussion",
        soundsBy: CONCERT,
        cutShort: null,
      };
    const { drums } = instrument;
    if (drums)
      return {
        ...about,
        measures: numbered(
          plan.segments.flatMap((segment, i) =>
            worded(onTwoDrums(laid(i, 0, false), segment, drums), segment, instrument),
          ),
        ),
        cutShort: null,
      };
    const limits: [number, number] = [pitchToMidi(range.low), pitchToMidi(range.high)];
    const up = writtenInterval(instrument).semitones;
    const place = { instrument, stage, up, limits };
    const together = plan.cycle
      ? cycleOctave(
          midis.map((forms) => forms.at(-1)!),
          place,
        )
      : null;
    const left: Pitch[] = [];
    let stopped = -1;
    const measures = plan.segments.flatMap((segment, i) => {
      const { form, octave } =
        together === null
          ? fittingForm(midis[i]!, place, segment.octaves)
          : { form: midis[i]!.length - 1, octave: together };
      const score = {
        title: "",
        parts: [
          { id: "P1", name: "", clef: "treble" as const, soundsBy: CONCERT, measures: laid(i, form, false) },
        ] as [Part],
        overrides: { [instrument.id]: { octave } },
      };
      const own = worded(
        respelled(derivePart(score, instrument, stage).score.parts[0].measures, segment.fifths),
        segment,
        instrument,
      );
      const outside = pitchesOutside(own, limits);
      left.push(...outside);
      if (plan.cycle && outside.length > 0 && stopped < 0) stopped = i;
      // A step of a cycle is played whole or not at all: after the first that does not fit the player rests.
      if (plan.cycle && stopped >= 0) return own.map((measure) => restsOnly(measure));
      return outside.length > 0 ? restOutside(own, limits) : own;
    });
    return { ...about, measures: numbered(measures), cutShort: cutShortOf(plan, stopped, left) };
  };
}

/** Strokes on the drum that sounds well under each note; a rest where neither does, or where the drums cannot be tuned. */
function onTwoDrums(measures: Measure[], { fifths, forms }: Segment, drums: readonly Range[]): Measure[] {
  const tonic =
    typeof fifths === "number" ? pitchToMidi(degreePitch(fifths, 1)) : (forms[0].flatMap(midiOrNone)[0] ?? 0);
  const tuned = tuneDrums(drums, tonic);
  return measures.map(unkeyed).map((measure) => {
    const events = measure.events.map((event): ScoreEvent => {
      if (!event.pitch) return event;
      const under = tuned && drumUnder(tuned, pitchToMidi(event.pitch) - tonic);
      if (!under) return restInstead(event);
      const { slurStart: _start, slurStop: _stop, ...stroke } = event;
      return { ...stroke, pitch: under };
    });
    return events.every((event) => event.kind === "rest") ? restsOnly(measure) : { ...measure, events };
  });
}

/** Written names of a stretch without signature: transposing alone would give B♯ and F♭. */
function respelled(measures: Measure[], fifths: Segment["fifths"]): Measure[] {
  if (typeof fifths === "number") return measures;
  const pitches = measures.flatMap((measure) => measure.events.flatMap((event) => event.pitch ?? []));
  let at = -1;
  const start = pitches[0] ? pitchToMidi(pitches[0]) : 0;
  const spell = (pitch: Pitch): Pitch => {
    at++;
    const midi = pitchToMidi(pitch);
    // The note a line starts from keeps its usual name in every octave: a scale on B♭ does not begin on A♯.
    if (fifths === "as-on-charts" || (midi - start) % 12 === 0) return midiToPitch(midi);
    const next = pitches.slice(at + 1).find((each) => pitchToMidi(each) !== midi);
    return spellMidi(midi, next && pitchToMidi(next) > midi ? 1 : 0);
  };
  return measures.map((measure) => ({
    ...measure,
    events: measure.events.map((event) => (event.pitch ? { ...event, pitch: spell(event.pitch) } : event)),
  }));
}

function midiOrNone(plain: Plain): number[] {
  const midi = midiOf(plain);
  return midi === null ? [] : [midi];
}

function cutShortOf(plan: Plan, stopped: number, left: Pitch[]): CutShort | null {
  if (plan.cycle && stopped >= 0) return { kind: "cycle", played: stopped, of: plan.segments.length };
  if (left.length === 0) return null;
  const names = [...new Map(left.map((pitch) => [pitchToMidi(pitch), pitchName(pitch)])).entries()]
    .sort(([a], [b]) => a - b)
    .map(([, name]) => name);
  return { kind: "notes", names };
}

/** Lengths that are one note value wherever they stand: spares looking for one. */
const PLAIN_SHAPES: Record<Fraction, { type: NoteType; dots: number }> = Object.fromEntries(
  (["whole", "half", "quarter", "eighth", "16th"] as const).map((type) => [
    QUARTERS_OF_TYPE[type],
    { type, dots: 0 },
  ]),
);

/** Lays plain notes into bars of four, with ids of their own; a rest fills the last bar. */
export function inBars(notes: readonly Plain[], prefix: string, fifths: number | null): Measure[] {
  const over = fractionToNumber(lengthOf(notes)) % 4;
  const tokens = [...notes, ...(over > 0 ? rest(4 - over) : [])].map((each, i) => ({
    ...PLAIN_SHAPES[each.duration],
    ...each,
    id: `${prefix}n${i + 1}`,
    kind: each.kind ?? ("note" as const),
  }));
  return layInBars(tokens, [
    {
      id: `${prefix}m1`,
      number: "1",
      time: METRE,
      ...(fifths === null ? {} : { key: { fifths, mode: "major" as const } }),
    },
  ]);
}

/** Bars of several segments as one run: ids and numbers anew; key and metre stand where they change. */
export function numbered(measures: readonly Measure[]): Measure[] {
  let fifths: number | undefined;
  return measures.map(({ time: _time, key, ...measure }, i) => {
    const changes = key !== undefined && key.fifths !== fifths;
    if (key) fifths = key.fifths;
    return {
      ...measure,
      id: `m${i + 1}`,
      number: String(i + 1),
      ...(i === 0 ? { time: METRE } : {}),
      ...(changes ? { key } : {}),
    };
  });
}

interface Place {
  instrument: Instrument;
  stage: Stage;
  /** Semitones from the concert to the written note, whole octaves apart. */
  up: number;
  limits: [low: number, high: number];
}

function fits(midis: readonly number[], octave: number, { up, limits: [low, high] }: Place): boolean {
  return midis.every((midi) => midi + up + 12 * octave >= low && midi + up + 12 * octave <= high);
}

/** The first form that fits, in the octave that `music/octave` chooses; among those of its voice as long as one fits. */
function fittingForm(
  forms: readonly number[][],
  place: Place,
  octaves?: readonly number[],
): { form: number; octave: number } {
  const inOctaves = (allowed?: readonly number[]) =>
    forms.map((midis, form) => ({
      form,
      octave: chooseOctave(
        midis.map((midi) => midi + place.up),
        { ...place, ...(allowed ? { octaves: allowed } : {}) },
      ),
    }));
  const answers = [...(octaves ? inOctaves(octaves) : []), ...inOctaves()];
  return answers.find(({ form, octave }) => fits(forms[form]!, octave, place)) ?? answers.at(-1)!;
}

/** The octave that is chosen for the first step, unless the player could not play even that; then where most steps fit. */
function cycleOctave(steps: readonly number[][], place: Place): number {
  const chosen = chooseOctave(
    steps[0]!.map((midi) => midi + place.up),
    place,
  );
  if (fits(steps[0]!, chosen, place)) return chosen;
  return chooseOctave(
    steps.flat().map((midi) => midi + place.up),
    place,
  );
}

function isOutside(event: ScoreEvent, [low, high]: [number, number]): boolean {
  if (!event.pitch) return false;
  const midi = pitchToMidi(event.pitch);
  return midi < low || midi > high;
}

function pitchesOutside(measures: readonly Measure[], limits: [number, number]): Pitch[] {
  return measures.flatMap((measure) =>
    measure.events.flatMap((event) => (isOutside(event, limits) ? [event.pitch!] : [])),
  );
}

/** Rests for notes outside the range; slurs keep to the notes that are left. */
function restOutside(measures: readonly Measure[], limits: [number, number]): Measure[] {
  const events = measures.flatMap((measure) => measure.events);
  const kept = new Map<string, Pick<ScoreEvent, "slurStart" | "slurStop">>();
  let open: ScoreEvent[] | null = null;
  for (const event of events) {
    if (event.slurStart !== undefined) open = [];
    if (open && event.kind === "note" && !isOutside(event, limits)) open.push(event);
    if (event.slurStop === undefined || !open) continue;
    if (open.length > 1) {
      kept.set(open[0]!.id, { slurStart: 1 });
      kept.set(open.at(-1)!.id, { ...kept.get(open.at(-1)!.id), slurStop: 1 });
    }
    open = null;
  }
  return measures.map((measure) => {
    const inside = measure.events.map((event): ScoreEvent => {
      if (isOutside(event, limits)) return restInstead(event);
      const { slurStart: _start, slurStop: _stop, ...plain } = event;
      return { ...plain, ...kept.get(event.id) };
    });
    return inside.every((event) => event.kind === "rest")
      ? restsOnly(measure)
      : { ...measure, events: inside };
  });
}

/** A rest as long as a note that is not played. */
export function restInstead({ id, duration, type, dots, tuplet }: ScoreEvent): ScoreEvent {
  return { id, kind: "rest", duration, type, dots, ...(tuplet ? { tuplet } : {}) };
}

/** A bar in which this player rests. */
export function restsOnly(measure: Measure): Measure {
  return {
    ...measure,
    events: [
      { id: measure.events[0]!.id, kind: "rest", duration: "4", type: "whole", dots: 0, wholeMeasure: true },
    ],
  };
}

/** Fingerings and positions as words under brass notes, where they change. */
export function withCues(
  measures: readonly Measure[],
  { instrument, variant }: PlayerKind,
  chosen: ReadonlyMap<string, string> = new Map(),
): Measure[] {
  let before = "";
  return measures.map((measure) => ({
    ...measure,
    events: measure.events.map((event) => {
      if (!event.pitch) {
        if (event.kind === "rest") before = "";
        return event;
      }
      if (event.tieStop) return event;
      const text = chosen.get(event.id) ?? brassCue(instrument, variant ?? null, event.pitch);
      if (!text || text === before) return event;
      before = text;
      return { ...event, lyric: text };
    }),
  }));
}

/** "0" for open, "1-2" for valves, "4" for a position; nothing for instruments that are fingered with holes or not at all. */
export function cueText(fingering: NonNullable<ReturnType<typeof fingeringFor>>["choices"][number]): string {
  if (fingering.kind === "valves")
    return (fingering.thumb ? "T" : "") + (fingering.valves.length === 0 ? "0" : fingering.valves.join("-"));
  if (fingering.kind === "slide") return (fingering.trigger ? "T" : "") + String(fingering.position);
  return "";
}

function brassCue(instrument: Instrument, variant: string | null, pitch: Pitch): string {
  if (typeof instrument.fingering !== "object") return "";
  const choice = fingeringFor(instrument, pitch, { variant })?.choices[0];
  return choice ? cueText(choice) : "";
}

function unkeyed({ key: _key, ...measure }: Measure): Measure {
  return measure;
}
