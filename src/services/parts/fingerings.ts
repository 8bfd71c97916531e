import type { z } from "zod";
import {
  type Fingering,
  type FingeringOptions,
  fingeringFor,
  fingeringOf,
  fingeringText,
  INSTRUMENTS,
  type Instrument,
  instrumentById,
  midiToPitch,
  pitchName,
  pitchToMidi,
  readFingering,
  stageRange,
} from "../../core/music";
import { BandFingering } from "../../data";
import { type Actor, director, ServiceError } from "../actor";
import { audit } from "../audit";
import type { ChartView, SetFingerings } from "../shelf/schema";
import { describeNote } from "./part";

type Own = NonNullable<FingeringOptions["own"]>;

/** What the band's director has set or confirmed for an instrument. */
export async function ownFingerings(bandId: string, instrumentId: string): Promise<Own> {
  const rows = await BandFingering.findAll({ where: { bandId, instrumentId } });
  if (rows.length === 0) return new Map();
  const instrument = instrumentById(instrumentId);
  return new Map(
    rows.flatMap((row): [number, Fingering][] => {
      const fingering = readOwn(instrument, row.writtenMidi, row.fingering);
      return fingering ? [[row.writtenMidi, fingering]] : [];
    }),
  );
}

/** The chart's own entry where it says the same, so that a confirmed brass note keeps its partial and intonation. */
function readOwn(instrument: Instrument, midi: number, text: string): Fingering | null {
  const builds = [null, ...(instrument.variants ?? []).map((variant) => variant.id)];
  for (const variant of builds) {
    const charted = fingeringFor(instrument, midiToPitch(midi), { variant })?.choices.find(
      (choice) => fingeringText(choice) === text,
    );
    if (charted) return charted;
  }
  for (const variant of builds) {
    const read = readFingering(fingeringOf(instrument, variant), text);
    if (read) return read;
  }
  return null;
}

/** Every note of an instrument's two-year range with its fingering, for the director to read, confirm, change and print. */
export async function fingeringChart(
  actor: Actor,
  instrumentId: string,
  variant: string | null,
): Promise<ChartView> {
  const { bandId } = director(actor);
  const instrument = knownInstrument(instrumentId);
  const own = await ownFingerings(bandId, instrumentId);
  const range = stageRange(instrument, "widening");
  const known = instrument.variants?.find((each) => each.id === variant);
  const build = known?.id ?? instrument.variants?.[0]?.id ?? null;
  const notes =
    range && instrument.fingering !== "none"
      ? Array.from({ length: pitchToMidi(range.high) - pitchToMidi(range.low) + 1 }, (_, i) => {
          const pitch = midiToPitch(pitchToMidi(range.low) + i);
          const chart = fingeringFor(instrument, pitch, { variant: build, own });
          return {
            ...describeNote(pitch, instrument, { variant: build, own }),
            midi: pitchToMidi(pitch),
            alternates: (chart?.choices ?? []).slice(1).map(fingeringText),
            set: own.has(pitchToMidi(pitch)),
          };
        })
      : [];
  return {
    instrumentId,
    instrumentName: instrument.name,
    clef: instrument.clef,
    build,
    builds: (instrument.variants ?? []).map(({ id, name }) => ({ id, name })),
    overblows: instrument.overblows,
    voice: instrument.voice,
    tuningNote: instrument.tuningNote?.replace("b", "♭") ?? null,
    typicalSnags: [...instrument.typicalSnags],
    cautions: [...instrument.cautions],
    example: exampleFor(instrument),
    notes,
  };
}

/** How a fingering is typed for this instrument. */
function exampleFor(instrument: Instrument): string {
  if (typeof instrument.fingering === "string") return "T 123 | 12- + E♭";
  return instrument.fingering.series === "slide" ? "4th position" : "1-3";
}

function knownInstrument(instrumentId: string): Instrument {
  const instrument = INSTRUMENTS.find((each) => each.id === instrumentId);
  if (!instrument) throw new ServiceError("not-found", "There is no such instrument.");
  return instrument;
}

/**
 * Sets fingerings for the band, or confirms what the chart says by setting the same; null goes back to the chart.
 * @throws ServiceError naming the note whose text is no fingering; then nothing is changed
 */
export async function setFingerings(
  actor: Actor,
  instrumentId: string,
  input: z.output<typeof SetFingerings>,
): Promise<void> {
  const who = director(actor);
  const instrument = knownInstrument(instrumentId);
  const rows = input.notes.map(({ midi, text }) => {
    if (text === null) return { midi, text };
    const fingering = readOwn(instrument, midi, text);
    if (!fingering)
      throw new ServiceError(
        "bad-input",
        `"${text}" is no fingering of the ${instrument.name.toLowerCase()} for ${pitchName(midiToPitch(midi))}; write it like ${exampleFor(instrument)}.`,
      );
    return { midi, text: fingeringText(fingering) };
  });
  await BandFingering.sequelize!.transaction(async (transaction) => {
    for (const { midi, text } of rows) {
      const where = { bandId: who.bandId, instrumentId, writtenMidi: midi };
      await BandFingering.destroy({ where, transaction });
      if (text !== null) await BandFingering.create({ ...where, fingering: text }, { transaction });
    }
    await audit(who, "set-fingerings", who.bandId, transaction);
  });
}
