import type { RoomMoment, RoomPlan, Stretch } from "../../core/room";
import { barQuarters, beatOfMetre, fractionToNumber, metresOf } from "../../core/score";
import type { RoomTune } from "../../services/room/wire";

/** Where the board is: the bar that is lit, the one after it, and how far the click has come in it. */
export interface Place {
  bar: number;
  beats: number;
  next: number | null;
  nextBeats: number;
  /** Share of the bar that is over; null while nothing sounds. */
  sweep: number | null;
  moment: RoomMoment | null;
  /** The bars that are chosen: from the first to after the last. */
  stretch: readonly [number, number];
}

/** Beats of a written bar. */
export function beatsOf({ score }: RoomTune, bar: number): number {
  const { measures } = score.parts[0];
  const metre = metresOf(measures)[bar] ?? { beats: 4, beatType: 4 };
  return Math.max(1, fractionToNumber(barQuarters(metre)) / fractionToNumber(beatOfMetre(metre)));
}

export function placeOf(
  tune: RoomTune,
  plan: RoomPlan | null,
  moment: RoomMoment | null,
  stretches: readonly Stretch[],
): Place {
  const first = stretches[0]?.[0] ?? 0;
  const stretch = [first, stretches[0]?.[1] ?? tune.numbers.length] as const;
  const bar = moment?.bar ?? first;
  const at = plan?.bars.findIndex((each) => each.bar === bar) ?? -1;
  const next = plan?.bars[at + 1]?.bar ?? null;
  const beats = beatsOf(tune, bar);
  return {
    bar,
    beats,
    next,
    nextBeats: next === null ? beats : beatsOf(tune, next),
    sweep: moment && moment.bar !== null ? Math.min(1, (moment.beat - 1 + moment.share) / beats) : null,
    moment,
    stretch,
  };
}
