import {
  instrumentById,
  pitchName,
  pitchToMidi,
  type Stage,
  spellMidi,
  stageRange,
  widestRange,
} from "../../core/music";
import { type Knowledge, suggestStage } from "../../core/progress";
import { writtenPitch } from "./names";
import type { InstrumentKnowledge } from "./schema";

interface Held {
  instrumentId: string;
  stage: Stage;
  from: string;
  to: string | null;
}

/** What a player knows on one instrument, with names and the ladder it stands on. */
export function instrumentKnowledge(
  held: Held,
  knowledge: Knowledge,
  weeksAtStage: number,
  soundWeeks: number,
): InstrumentKnowledge {
  const { instrumentId, stage, from, to } = held;
  const instrument = instrumentById(instrumentId);
  const range = stageRange(instrument, stage);
  const names = (midi: number) => {
    const pitch = writtenPitch(midi, instrumentId);
    const concert = spellMidi(midi + instrument.soundsBy.semitones, -2);
    return { name: pitchName(pitch), concert: pitchName(concert) };
  };
  const widest = range && !instrument.drums ? widestRange(instrument) : null;
  return {
    instrumentId,
    name: instrument.name,
    stage,
    from,
    to,
    range: range && { low: pitchToMidi(range.low), high: pitchToMidi(range.high) },
    things: knowledge.things.map((each) => ({
      ...each,
      ...(each.kind === "note" ? names(Number(each.thing)) : { name: each.thing, concert: null }),
    })),
    ladder: widest
      ? Array.from({ length: widest[1] - widest[0] + 1 }, (_, i) => ({
          midi: widest[1] - i,
          ...names(widest[1] - i),
        }))
      : [],
    suggestion: to === null ? suggestStage(knowledge, instrument, stage, weeksAtStage, soundWeeks) : null,
  };
}
