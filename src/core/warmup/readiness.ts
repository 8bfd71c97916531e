import { pitchName } from "../music";
import { isReady } from "../ready";
import { type Known, newIn, vocabularyOf } from "../score";
import type { Block } from "./block";
import { buildBlock } from "./build";
import type { CutShort, PlayerKind } from "./segment";

/** What a block asks of one kind of player beyond their stage. */
export interface BlockDemand {
  player: PlayerKind;
  /** Written names. */
  newNotes: string[];
  newRhythms: string[];
  /** Told, but nobody waits for a sign: as for lines. */
  newSigns: string[];
  cutShort: CutShort | null;
}

/**
 * Who meets something new in a block, or cannot play all of it; the same question as for lines.
 * @param knownOf  what players of a kind know
 * @returns only kinds of players who are not ready
 */
export function blockDemands(
  block: Block,
  players: readonly PlayerKind[],
  knownOf: (player: PlayerKind) => Known,
  pieceBpm = 80,
): BlockDemand[] {
  const build = buildBlock(block, pieceBpm);
  return players.flatMap((player): BlockDemand[] => {
    const { score, cutShort } = build(player);
    const fresh = newIn(vocabularyOf(score), knownOf(player));
    const newNotes = fresh.notes.map((pitch) => pitchName(pitch));
    const ready = isReady({ newNotes, newRhythms: fresh.rhythms, inRange: cutShort === null });
    return ready ? [] : [{ player, newNotes, newRhythms: fresh.rhythms, newSigns: fresh.signs, cutShort }];
  });
}
