import { listenByEar } from "./by-ear";
import { pitchedSegments } from "./cutting";
import { isTooQuiet, soundsLikeMusic, strokesOnBars } from "./gates";
import { ownTuning } from "./melody-take";
import { type Listen, type Plan, referenceCents } from "./plan";
import { round } from "./statistics";
import { barSegments, struckSegments } from "./strikes";
import type { Assessment, AssessOptions } from "./types";
import { unassessed } from "./unassessed";

/** Without notes there is rhythm, level and tuning to speak of, and nothing else. */
export function assessByEar({ line, reach }: Plan, listen: Listen, options: AssessOptions): Assessment {
  const features = listen(reach);
  if (isTooQuiet(features)) return unassessed("too-quiet");
  const segments = !reach
    ? struckSegments(features)
    : reach.struckBars
      ? barSegments(features, reach)
      : pitchedSegments(features);
  if (
    !reach
      ? segments.length < 2
      : reach.struckBars
        ? !strokesOnBars(segments)
        : !soundsLikeMusic(segments, features)
  )
    return unassessed("no-music");
  const byEar = listenByEar(segments, features, line.bpm);
  return {
    ...unassessed("assessed"),
    take: {
      status: "assessed",
      tempoBpm: byEar.tempoBpm,
      driftPercent: null,
      tuningCents: reach === null ? null : round(100 * ownTuning(segments) - referenceCents(options), 1),
      flags: [],
    },
    byEar: { ...byEar, soundingSec: round(byEar.soundingSec, 1) },
  };
}
