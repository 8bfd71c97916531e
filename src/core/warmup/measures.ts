import type { Assessment } from "../listen";
import type { Family } from "./block";

/** One thing a student is told about a warm-up take: a name, a number with its unit, and whether it is where it should be. */
export interface WarmUpMeasure {
  name: string;
  value: string;
  /** Null where there is nothing to reach. */
  good: boolean | null;
}

/** Ten seconds is a good long tone (common practice, no published source). */
const LONG_SEC = 10;
/** Steady enough for a first year, from memory: a spread of pitch in cents, of level in dB. */
const STEADY_CENTS = 12;
const STEADY_DB = 2.5;

/**
 * What a take of a warm-up is measured by: long tones in seconds and steadiness, scales by the tempo reached clean, slurs by
 * cracked starts and re-tongued joins, range by how far the ladder was climbed.
 *
 * @param goalBpm  tempo that was asked for
 * @returns nothing for a take that was not assessed
 */
export function warmUpMeasures(family: Family, assessment: Assessment, goalBpm: number): WarmUpMeasure[] {
  if (assessment.take.status !== "assessed") return [];
  switch (family) {
    case "breathing":
      return [];
    case "first-sounds":
    case "long-tones":
      return toneMeasures(family, assessment);
    case "range-steps":
      return [ladderMeasure(assessment)];
    case "slurs":
    case "chromatic-descent":
      return [...slurMeasures(assessment), tempoMeasure(assessment, goalBpm)];
    default:
      return [tempoMeasure(assessment, goalBpm), startsMeasure(assessment)];
  }
}

function toneMeasures(family: Family, { longTone, tones = [] }: Assessment): WarmUpMeasure[] {
  if (!longTone) return [];
  const shaky = tones.filter((tone) => tone.pitchSdCents > STEADY_CENTS || tone.levelSdDb > STEADY_DB).length;
  const cracked = tones.filter((tone) => tone.attack === "cracked").length;
  return [
    {
      name: "longest tone",
      value: `${longTone.seconds.toFixed(1)} s`,
      good: family === "long-tones" ? longTone.seconds >= LONG_SEC : null,
    },
    ...(family === "first-sounds" && longTone.spanSemitones >= 1
      ? [{ name: "from low to high", value: `${Math.round(longTone.spanSemitones)} semitones`, good: null }]
      : []),
    {
      name: "steady tones",
      value: `${tones.length - shaky} of ${tones.length}`,
      good: shaky === 0,
    },
    { name: "clean starts", value: `${tones.length - cracked} of ${tones.length}`, good: cracked === 0 },
  ];
}

function ladderMeasure({ notes }: Assessment): WarmUpMeasure {
  const failed = notes.findIndex((note) => note.verdict !== "ok" || note.length === "short");
  const reached = failed < 0 ? notes.length : failed;
  return { name: "steps held", value: `${reached} of ${notes.length}`, good: failed < 0 };
}

function slurMeasures({ notes }: Assessment): WarmUpMeasure[] {
  const cracked = notes.filter((note) => note.flags.includes("cracked-attack")).length;
  const tongued = notes.filter((note) => note.flags.includes("re-tongued-slur")).length;
  return [
    { name: "cracked starts", value: String(cracked), good: cracked === 0 },
    { name: "tongued inside a slur", value: String(tongued), good: tongued === 0 },
  ];
}

/** The tempo counts as reached when every note was right and in time. */
function tempoMeasure({ take, notes }: Assessment, goalBpm: number): WarmUpMeasure {
  const wrong = notes.filter((note) => note.verdict !== "ok").length;
  const bpm = Math.round(take.tempoBpm ?? 0);
  if (wrong > 0)
    return {
      name: "tempo reached clean",
      value: `not yet: ${wrong} ${wrong === 1 ? "note" : "notes"} to mend at ${bpm} bpm`,
      good: false,
    };
  return { name: "tempo reached clean", value: `${bpm} bpm`, good: bpm >= goalBpm - 3 };
}

function startsMeasure({ notes }: Assessment): WarmUpMeasure {
  const cracked = notes.filter((note) => note.flags.includes("cracked-attack")).length;
  return { name: "cracked starts", value: String(cracked), good: cracked === 0 };
}
