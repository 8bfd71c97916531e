import { instrumentById } from "../../core/music";
import { scorePlace } from "../../core/ready";
import type { PlayerKind } from "../../core/warmup";
import type { BandSeat } from "../../services/warmups/schema";

/** The first kind of player of each instrument. */
export function onePerInstrument<K extends PlayerKind>(kinds: readonly K[]): K[] {
  return kinds.filter(
    (kind, i) => kinds.findIndex((each) => each.instrument.id === kind.instrument.id) === i,
  );
}

/** Instruments, stages and builds of the band, each once, with the groups their players are in. */
export function playerKinds(seats: BandSeat[]): (PlayerKind & { groups: string[] })[] {
  const kinds = new Map<string, PlayerKind & { groups: string[] }>();
  for (const { instrumentId, stage, variant, groupIds } of seats) {
    const key = `${instrumentId}/${stage}/${variant}`;
    const known = kinds.get(key);
    kinds.set(key, {
      instrument: instrumentById(instrumentId),
      stage,
      variant,
      groups: [...new Set([...(known?.groups ?? []), ...groupIds])],
    });
  }
  return [...kinds.values()].sort((a, b) => scorePlace(a.instrument.id) - scorePlace(b.instrument.id));
}
