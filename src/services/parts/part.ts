import {
  type FingeringOptions,
  fingeringFor,
  fingeringText,
  type Instrument,
  instrumentById,
  isBlown,
  keyName,
  otherwiseText,
  type Pitch,
  pitchName,
  type Stage,
  staffPosition,
  tendencyText,
  transposePitch,
} from "../../core/music";
import { ladderOf } from "../../core/ready";
import {
  BREATH_SEC,
  breathPlaces,
  concertPart,
  type DerivedPart,
  type DeriveOptions,
  derivePart,
  difficultyOf,
  type Known,
  newIn,
  type Score,
  snagsInTime,
  timeline,
  vocabularyOf,
  writeMusicXml,
} from "../../core/score";
import { type EngravingWidth, engrave, engraveOnce } from "../../server/engrave";
import { ServiceError } from "../actor";
import { knownAt } from "../knowledge";
import type { NewNote, PartView } from "../shelf/schema";

/** The part of one instrument, or null for the line as it sounds. */
export function partOf(
  score: Score,
  instrument: Instrument | null,
  stage: Stage,
  options: DeriveOptions = {},
): DerivedPart {
  if (instrument) return derivePart(score, instrument, stage, options);
  const concert = concertPart(score, options.partId);
  return {
    score: concert,
    source: { id: concert.parts[0].id, name: concert.parts[0].name, ownPart: false },
    octaveShift: 0,
    octaveBy: "rule",
    substituted: [],
    outOfRange: [],
  };
}

/** `asKnown`: what the player in question knows; what the stage brings when left out. */
type ViewOptions = FingeringOptions & { patient?: boolean; asKnown?: Known | undefined };

/** Everything a page shows of one instrument's part of a line, engraved; "concert" for the line as it sounds. */
export function partView(
  score: Score,
  instrumentId: string,
  stage: Stage,
  width: EngravingWidth,
  options: ViewOptions & DeriveOptions = {},
): Promise<PartView> {
  const instrument = instrumentId === "concert" ? null : instrumentById(instrumentId);
  return viewOfPart(partOf(score, instrument, stage, options), instrument, stage, width, options);
}

/** Everything a page shows of a part that was made already, engraved. */
export async function viewOfPart(
  part: DerivedPart,
  instrument: Instrument | null,
  stage: Stage,
  width: EngravingWidth,
  options: ViewOptions = {},
): Promise<PartView> {
  const instrumentId = instrument?.id ?? "concert";
  const known = instrument && (options.asKnown ?? knownAt(instrumentId, stage));
  const first = part.score.parts[0].measures[0]?.key;
  const line = timeline(part.score);
  const fresh = known && newIn(vocabularyOf(part.score), known);
  return {
    instrumentId,
    instrumentName: instrument?.name ?? "Concert pitch",
    key: part.score.parts[0].clef === "percussion" ? "no key" : keyName(first?.fifths ?? 0, first?.mode),
    octaveShift: part.octaveShift,
    outOfRange: part.outOfRange.map((pitch) => pitchName(pitch)),
    partId: part.source.id,
    partName: part.source.name,
    ownPart: part.source.ownPart,
    octaveBy: part.octaveBy,
    substituted: part.substituted.map(({ eventId, measure, from, to }) => ({
      eventId,
      measure,
      from: pitchName(from),
      to: pitchName(to),
    })),
    newNotes: instrument && fresh ? fresh.notes.map((pitch) => describeNote(pitch, instrument, options)) : [],
    newRhythms: fresh?.rhythms ?? [],
    newSigns: fresh?.signs ?? [],
    breaths: instrument && isBlown(instrument) ? breathPlaces(line, BREATH_SEC[stage]) : [],
    snags: instrument ? snagsInTime(line, instrument, stage, { variant: options.variant }) : [],
    difficulty: instrument ? difficultyOf(part.score, instrument, stage, { variant: options.variant }) : null,
    noteList: part.score.catalogued ? [] : noteListOf(part.score),
    ladder: instrument && known ? ladderOf(part.score, instrument, stage, known) : null,
    svg: await engravePart(part.score, width, options.patient),
  };
}

/** Noteheads in playing order, those of repeats once. */
function noteListOf(score: Score): PartView["noteList"] {
  return timeline(score)
    .notes.filter((note) => note.pass === 1)
    .map(({ eventId, measure, beat, written }) => ({
      eventId,
      measure,
      beat,
      name: written ? pitchName(written) : "stroke",
    }));
}

/**
 * The line as it sounds is drawn once, before it is stored.
 * @throws ServiceError when the engraver cannot draw it, or not in the time it has
 */
export async function engraveLine(score: Score, name: string): Promise<void> {
  try {
    await engravePart(concertPart(score), "wide");
  } catch {
    throw new ServiceError(
      "bad-input",
      `${name}. The engraver cannot draw it; save it again from the program that wrote it, or cut it into shorter lines.`,
    );
  }
}

/** A picture that nobody asks for twice. */
export function drawOnce(score: Score): Promise<string> {
  return engraveOnce(withoutName(score), "wide");
}

/** The picture of a part, without the instrument's name before the staff: the page says it already. Empty for a catalogued line. */
export async function engravePart(
  score: Score,
  width: EngravingWidth,
  patient: boolean | undefined = false,
): Promise<string> {
  return score.catalogued ? "" : engrave(withoutName(score), width, patient);
}

function withoutName(score: Score): string {
  const [part] = score.parts;
  return writeMusicXml({ ...score, parts: [{ ...part, name: "" }] });
}

/** A written note as it is shown to people: name, place on the staff, fingering. */
export function describeNote(pitch: Pitch, instrument: Instrument, options: FingeringOptions): NewNote {
  const chart = fingeringFor(instrument, pitch, options);
  const fingering = chart?.choices[0] ?? null;
  return {
    name: pitchName(pitch),
    concert: pitchName(transposePitch(pitch, instrument.soundsBy), false),
    staffPosition: staffPosition(pitch, instrument.clef),
    alter: pitch.alter,
    fingering,
    fingeringText: fingering ? fingeringText(fingering) : withoutFingering(instrument),
    tendency: fingering && tendencyText(fingering),
    clef: instrument.clef,
    checkedBy: chart?.checkedBy ?? [],
    otherwise: otherwiseText(instrument, pitch),
  };
}

/** What stands where a fingering would: bars are struck, and a brass note below the valves' reach cannot be played. */
function withoutFingering(instrument: Instrument): string {
  if (instrument.family === "mallets") return "strike the bar";
  return typeof instrument.fingering === "object" ? "out of reach of this instrument" : "ask your director";
}
