import { instrumentById } from "../core/music";
import type { KnowingSeat, Seat } from "../core/ready";
import { type Known, knownAtStage } from "../core/score";

const atStage = new Map<string, Known>();

/** What a player knows on an instrument: what the stage brings. The one place that readiness, sheets and practice ask. */
export function knownOf({ instrumentId, stage }: Pick<Seat, "instrumentId" | "stage">): Known {
  const key = `${instrumentId}/${stage}`;
  const known = atStage.get(key) ?? knownAtStage(instrumentById(instrumentId), stage);
  atStage.set(key, known);
  return known;
}

/** Seats with what their players know; players who know the same share it. */
export function withKnown<S extends Seat>(seats: readonly S[]): (S & KnowingSeat)[] {
  return seats.map((seat) => ({ ...seat, known: knownOf(seat) }));
}
