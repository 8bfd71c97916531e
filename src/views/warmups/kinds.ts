import type { PlayerKind } from "../../core/warmup";

/** The first kind of player of each instrument. */
export function onePerInstrument<K extends PlayerKind>(kinds: readonly K[]): K[] {
  return kinds.filter(
    (kind, i) => kinds.findIndex((each) => each.instrument.id === kind.instrument.id) === i,
  );
}
