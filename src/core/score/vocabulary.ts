import {
  fifthsOfInterval,
  type Instrument,
  keyName,
  learnedAt,
  learnedBefore,
  type Pitch,
  pitchToMidi,
  STAGES,
  type Stage,
  staffStep,
  writtenInterval,
} from "../music";
import type { Measure, NoteType, Score, ScoreEvent } from "./model";
import { durationOfShape } from "./shape";

/** What a part asks a player to know, each thing once. Rhythms and signs are plain names, such as "dotted half" or "slur". */
export interface Vocabulary {
  /** Written notes, lowest first. */
  notes: Pitch[];
  rhythms: string[];
  signs: string[];
}

/** What a player has met before a line is opened. Notes are written MIDI numbers. */
export interface Known {
  notes: ReadonlySet<number>;
  rhythms: ReadonlySet<string>;
  signs: ReadonlySet<string>;
}

/** What each stage has met by its end, from memory of common beginner practice; each stage adds to the one before. */
const STAGE_RHYTHMS: Record<Stage, string[]> = {
  "making-a-sound": [],
  "five-notes": ["whole", "half", "quarter", "whole rest", "half rest", "quarter rest", "4/4"],
  "small-tunes": ["dotted half", "eighth", "tie", "2/4", "3/4"],
  widening: ["dotted quarter", "eighth rest", "pickup"],
};
const STAGE_SIGNS: Record<Stage, string[]> = {
  "making-a-sound": [],
  "five-notes": ["breath mark"],
  "small-tunes": ["slur", "repeat", "p", "mf", "f"],
  widening: ["endings", "fermata", "staccato", "accent", "tenuto", "mp", "D.C.", "Fine"],
};
/** Concert keys a stage has met by its end, as sharps (+) or flats (-). */
const STAGE_KEYS: Record<Stage, number[]> = {
  "making-a-sound": [],
  "five-notes": [-2],
  "small-tunes": [-3],
  widening: [-1, -4],
};

/** Everything a part uses, computed from its notes and signs; nothing is known of a catalogued line. */
export function vocabularyOf(part: Score): Vocabulary {
  if (part.catalogued) return { notes: [], rhythms: [], signs: [] };
  const notes = new Map<string, Pitch>();
  const rhythms = new Set<string>();
  const signs = new Set<string>();
  for (const measure of part.parts[0].measures) {
    readMeasureSigns(measure, rhythms, signs);
    for (const event of measure.events) {
      if (event.pitch) notes.set(`${staffStep(event.pitch)}/${event.pitch.alter}`, event.pitch);
      readEvent(event, rhythms, signs);
    }
  }
  const first = part.parts[0].measures[0];
  if (first?.implicit) rhythms.add("pickup");
  return {
    notes: [...notes.values()].sort((a, b) => pitchToMidi(a) - pitchToMidi(b)),
    rhythms: [...rhythms],
    signs: [...signs],
  };
}

function readMeasureSigns(measure: Measure, rhythms: Set<string>, signs: Set<string>): void {
  if (measure.time) rhythms.add(`${measure.time.beats}/${measure.time.beatType}`);
  if (measure.key && measure.key.fifths !== 0)
    signs.add(`key of ${keyName(measure.key.fifths, measure.key.mode)}`);
  if (measure.repeatStart || measure.repeatEnd) signs.add("repeat");
  if (measure.ending) signs.add("endings");
  if (measure.jump) signs.add(measure.jump === "da-capo" ? "D.C." : "D.S.");
  if (measure.fine) signs.add("Fine");
  if (measure.toCoda || measure.coda) signs.add("Coda");
}

const DOTS = ["", "dotted ", "double-dotted "];

/** Name of a note value or rest: "quarter", "dotted half", "eighth rest". */
export function rhythmName(event: { type: NoteType; dots: number; kind: "note" | "rest" }): string {
  return `${DOTS[event.dots] ?? ""}${event.type}${event.kind === "rest" ? " rest" : ""}`;
}

/**
 * The sign of a rhythm by its name, the way back from `rhythmName`; null for what is no single sign ("tie", "3/4").
 * @example
 * readRhythmName("dotted half")?.duration // => "3"
 */
export function readRhythmName(name: string): ScoreEvent | null {
  const found = /^(double-dotted |dotted )?(breve|whole|half|quarter|eighth|16th|32nd)( rest)?$/.exec(name);
  if (!found) return null;
  const dots = DOTS.indexOf(found[1] ?? "");
  const type = found[2] as NoteType;
  return {
    id: `sign-${name}`,
    kind: found[3] ? "rest" : "note",
    duration: durationOfShape({ type, dots }),
    type,
    dots,
  };
}

function readEvent(event: ScoreEvent, rhythms: Set<string>, signs: Set<string>): void {
  if (event.grace) {
    rhythms.add("grace note");
    return;
  }
  rhythms.add(event.wholeMeasure ? "whole rest" : rhythmName(event));
  if (event.tuplet) rhythms.add(event.tuplet.actual === 3 ? "triplet" : `${event.tuplet.actual}-tuplet`);
  if (event.tieStart) rhythms.add("tie");
  if (event.slurStart !== undefined) signs.add("slur");
  for (const articulation of event.articulations ?? [])
    signs.add(articulation === "strong-accent" ? "marcato" : articulation);
  if (event.dynamic) signs.add(event.dynamic);
  if (event.fermata) signs.add("fermata");
  if (event.breath) signs.add("breath mark");
}

/** Everything in a vocabulary that is not among what is known. */
export function newIn(vocabulary: Vocabulary, known: Known): Vocabulary {
  return {
    notes: vocabulary.notes.filter((pitch) => !known.notes.has(pitchToMidi(pitch))),
    rhythms: vocabulary.rhythms.filter((rhythm) => !known.rhythms.has(rhythm)),
    signs: vocabulary.signs.filter((sign) => !known.signs.has(sign)),
  };
}

/** What a player of this stage has met before: the notes, rhythms and signs of the stages before it. */
export function knownAtStage(instrument: Instrument, stage: Stage): Known {
  const before = STAGES.slice(0, STAGES.indexOf(stage));
  return {
    notes: learnedBefore(instrument, stage),
    rhythms: new Set(before.flatMap((each) => STAGE_RHYTHMS[each])),
    signs: new Set(before.flatMap((each) => [...STAGE_SIGNS[each], ...keysOf(instrument, each)])),
  };
}

/** What a stage itself brings to an instrument: what its player knows at its end beyond the stages before. */
export function stageBrings(instrument: Instrument, stage: Stage): Known {
  return {
    notes: new Set(learnedAt(instrument, stage).map(pitchToMidi)),
    rhythms: new Set(STAGE_RHYTHMS[stage]),
    signs: new Set([...STAGE_SIGNS[stage], ...keysOf(instrument, stage)]),
  };
}

/** The signs of a stage's keys as the instrument reads them. */
function keysOf(instrument: Instrument, stage: Stage): string[] {
  const moved = instrument.ranges ? fifthsOfInterval(writtenInterval(instrument)) : 0;
  return STAGE_KEYS[stage].map((fifths) => `key of ${keyName(fifths + moved)}`);
}
