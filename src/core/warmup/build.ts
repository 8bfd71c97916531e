import { type BalanceVoice, fingeringOf } from "../music";
import { fractionToNumber, type Measure, type Part, type Score } from "../score";
import { breathing, firstSounds } from "./air";
import { articulationPlan, tonguingPlan } from "./attacks";
import { type Block, type BlockTempo, blockTitle, checkBlock } from "./block";
import { choralePlan } from "./chorale";
import { chromaticPlan, descentPlan } from "./chromatic";
import { longTonePlan, rangeSteps } from "./held";
import { halfStepPlan, scalePlan } from "./scales";
import { type CutShort, type Laid, layPlan, type Plan, type PlayerKind, withCues } from "./segment";
import { laySlurs } from "./slurs";

/** A block as one kind of player reads it. */
export interface BlockPart {
  score: Score;
  /** Counts (quarter notes) from beginning to end, the same for every kind of player. */
  counts: number;
  /** Counts in which this kind of player sounds. */
  playingCounts: number;
  /** What this kind of player does not play; null when everything is there. */
  cutShort: CutShort | null;
}

/** Whether the lips make the sound: brass rests as much as it plays. */
export function isBrass({ instrument, variant }: PlayerKind): boolean {
  return typeof fingeringOf(instrument, variant) === "object";
}

/**
 * Prepares a block once and makes every kind of player's score of it.
 *
 * @param pieceBpm  tempo of the piece of the day, for blocks that follow it
 * @returns a function from a kind of player to its score at the block's (first) tempo
 * @throws WarmUpError for settings that give nothing to play
 */
export function buildBlock(block: Block, pieceBpm = 80): (player: PlayerKind) => BlockPart {
  checkBlock(block);
  const lay = layerOf(block);
  const [bpm] = temposOf(block.tempo, pieceBpm);
  // The same for everybody: counted once.
  let counts: number | undefined;
  return (player) => {
    const { measures, clef, soundsBy, cutShort, cues } = lay(player);
    counts ??= countsOf(measures, () => true);
    const cued = block.cues ? withCues(measures, player, cues) : measures;
    const tempo = { beatQuarters: "1", bpm: bpm! };
    const part: Part = {
      id: partId(player),
      name: player.instrument.name,
      asWritten: true,
      clef,
      soundsBy,
      measures: cued.map((measure, i) => (i === 0 ? { ...measure, tempo } : measure)),
    };
    return {
      score: { title: blockTitle(block), purpose: { kind: "warm-up", family: block.family }, parts: [part] },
      counts,
      playingCounts: countsOf(measures, (event) => event.kind === "note"),
      cutShort,
    };
  };
}

/** Id of the part of one kind of player in a score for the whole band. */
export function partId({ instrument, stage, variant }: PlayerKind): string {
  return [instrument.id, stage, variant].filter(Boolean).join("/");
}

/** Tempi a block is played at, one after another. */
export function temposOf(tempo: BlockTempo, pieceBpm: number): number[] {
  switch (tempo.kind) {
    case "fixed":
      return [tempo.bpm];
    case "ladder":
      return tempo.bpms;
    case "piece":
      return [pieceBpm];
  }
}

type Layer = (player: PlayerKind) => Laid & { cues?: ReadonlyMap<string, string> };

function layerOf(block: Block): Layer {
  switch (block.family) {
    case "breathing": {
      const laid = breathing(block);
      return () => laid;
    }
    case "first-sounds":
      return (player) => firstSounds(block, player);
    case "range-steps":
      return (player) => rangeSteps(block, player);
    case "slurs":
      return laySlurs(block);
    case "long-tones": {
      const [brass, others] = [true, false].map((lips) => layPlan(longTonePlan(block, lips)));
      return (player) => (isBrass(player) ? brass! : others!)(player);
    }
    case "chorale": {
      const byVoice = new Map<BalanceVoice, Layer>();
      return (player) => {
        const { voice } = player.instrument;
        const lay = byVoice.get(voice) ?? layPlan(choralePlan(block, voice));
        byVoice.set(voice, lay);
        return lay(player);
      };
    }
    default:
      return layPlan(planOf(block));
  }
}

function planOf(
  block: Extract<
    Block,
    {
      family:
        | "chromatic-descent"
        | "articulation"
        | "tonguing"
        | "scales"
        | "half-step-cycle"
        | "chromatic-scale";
    }
  >,
): Plan {
  switch (block.family) {
    case "chromatic-descent":
      return descentPlan(block);
    case "articulation":
      return articulationPlan(block);
    case "tonguing":
      return tonguingPlan(block);
    case "scales":
      return scalePlan(block);
    case "half-step-cycle":
      return halfStepPlan(block);
    case "chromatic-scale":
      return chromaticPlan(block);
  }
}

function countsOf(
  measures: readonly Measure[],
  which: (event: Measure["events"][number]) => boolean,
): number {
  return measures
    .flatMap((measure) => measure.events)
    .reduce((sum, event) => (which(event) ? sum + fractionToNumber(event.duration) : sum), 0);
}
