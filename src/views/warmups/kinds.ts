import { instrumentById } from "../../core/music";
import { scorePlace } from "../../core/ready";
import type { Known } from "../../core/score";
import type { PlayerKind } from "../../core/warmup";
import type { BandSeat } from "../../services/warmups/schema";

/** Players of one instrument, stage and build who know the same, with the groups they are in. */
export type KnowingKind = PlayerKind & { groups: string[]; known: Known };

/** The first kind of player of each instrument. */
export function onePerInstrument<K extends PlayerKind>(kinds: readonly K[]): K[] {
  return kinds.filter(
    (kind, i) => kinds.findIndex((each) => each.instrument.id === kind.instrument.id) === i,
  );
}

/** Instruments, stages, builds and knowledge of the band, each once, with the groups their players are in. */
export function playerKinds(seats: BandSeat[]): KnowingKind[] {
  const kinds = new Map<string, KnowingKind>();
  for (const { instrumentId, stage, variant, groupIds, known } of seats) {
    const key = `${instrumentId}/${stage}/${variant}/${JSON.stringify(known)}`;
    const before = kinds.get(key);
    kinds.set(key, {
      instrument: instrumentById(instrumentId),
      stage,
      variant,
      groups: [...new Set([...(before?.groups ?? []), ...groupIds])],
      known: before?.known ?? {
        notes: new Set(known.notes),
        rhythms: new Set(known.rhythms),
        signs: new Set(known.signs),
      },
    });
  }
  return [...kinds.values()].sort((a, b) => scorePlace(a.instrument.id) - scorePlace(b.instrument.id));
}
