import {
  fingeringFor,
  fingeringText,
  type Instrument,
  instrumentById,
  keyName,
  pitchName,
  type Stage,
  transposePitch,
} from "../../core/music";
import { concertPart, derivePart, newNotes, type Score, writeMusicXml } from "../../core/score";
import type { LineRevision } from "../../data";
import { type EngravingWidth, engrave } from "../../server/engrave";
import type { PartView } from "./schema";

/** The part of one instrument, or null for the line as it sounds. */
export function partOf(
  score: Score,
  instrument: Instrument | null,
  stage: Stage,
): ReturnType<typeof derivePart> {
  return instrument
    ? derivePart(score, instrument, stage)
    : { score: concertPart(score), octaveShift: 0, outOfRange: [] };
}

/** Everything a page shows of one instrument's part, engraved. */
export async function partView(
  revision: LineRevision,
  instrumentId: string,
  stage: Stage,
  width: EngravingWidth,
): Promise<PartView> {
  const instrument = instrumentId === "concert" ? null : instrumentById(instrumentId);
  const part = partOf(revision.score, instrument, stage);
  const first = part.score.parts[0].measures[0]?.key;
  return {
    instrumentId,
    instrumentName: instrument?.name ?? "Concert pitch",
    key: instrument?.clef === "percussion" ? "no key" : keyName(first?.fifths ?? 0, first?.mode),
    octaveShift: part.octaveShift,
    outOfRange: part.outOfRange.map((pitch) => pitchName(pitch)),
    newNotes: instrument
      ? newNotes(part.score, instrument, stage).map((pitch) => describeNote(pitch, instrument))
      : [],
    svg: await engravePart(revision, part.score, `${instrumentId}-${stage}`, width),
  };
}

/** The picture of a part, without the instrument's name before the staff: the page says it already. */
export function engravePart(
  revision: LineRevision,
  score: Score,
  partKey: string,
  width: EngravingWidth,
): Promise<string> {
  const [part] = score.parts;
  return engrave(
    writeMusicXml({ ...score, parts: [{ ...part, name: "" }] }),
    width,
    `${revision.contentHash}-${partKey}`,
  );
}

function describeNote(
  pitch: Parameters<typeof pitchName>[0],
  instrument: Instrument,
): PartView["newNotes"][number] {
  const chart = fingeringFor(instrument, pitch);
  return {
    name: pitchName(pitch),
    concert: pitchName(transposePitch(pitch, instrument.soundsBy), false),
    fingering: chart ? fingeringText(chart.choices[0]!) : null,
    verified: chart?.verified ?? true,
  };
}
