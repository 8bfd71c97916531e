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
 * @param players  kinds of players, each with what they know
 * @returns only kinds who are not ready, those who lack the same as one
 */
export function blockDemands(
  block: Block,
  players: readonly (PlayerKind & { known: Known })[],
  pieceBpm = 80,
): BlockDemand[] {
  const build = buildBlock(block, pieceBpm);
  const told = new Set<string>();
  return players.flatMap(({ known, ...player }): BlockDemand[] => {
    const { score, cutShort } = build(player);
    const fresh = newIn(vocabularyOf(score), known);
    const newNotes = fresh.notes.map((pitch) => pitchName(pitch));
    const ready = isReady({ newNotes, newRhythms: fresh.rhythms, inRange: cutShort === null });
    const demand = { player, newNotes, newRhythms: fresh.rhythms, newSigns: fresh.signs, cutShort };
    const key = JSON.stringify([player.instrument.id, player.stage, newNotes, fresh, cutShort]);
    if (ready || told.has(key)) return [];
    told.add(key);
    return [demand];
  });
}
