import { type Instrument, instrumentById, pitchName, type Stage, transposePitch } from "../music";
import {
  derivePart,
  difficultyOf,
  forDrumsOnly,
  type Known,
  newIn,
  type Score,
  type Snag,
  snagsOf,
  vocabularyOf,
} from "../score";
import { type KnowingSeat, kindsOfSeats, scorePlace, seatsFor } from "./seats";

/** What a line asks of one instrument's player. */
export interface LineDemands {
  /** Written names of notes not met before. */
  newNotes: string[];
  /** The same notes as they sound, without octave. */
  newConcert: string[];
  newRhythms: string[];
  newSigns: string[];
  /** Written names of notes outside the stage's range. */
  outOfRange: string[];
  /** The gravest snag, range apart. */
  snag: Snag | null;
  snags: number;
  difficulty: number;
}

/** How ready the players of one kind are for a line. */
export interface ReadyRow extends LineDemands {
  instrumentId: string;
  stage: Stage;
  players: number;
  playerIds: string[];
}

/**
 * Ready means: no note or rhythm the player has not met, nothing out of range. New signs and key signatures are named but
 * make nobody wait (see docs/decisions/0006).
 */
export function isReady(
  demands: Pick<LineDemands, "newNotes" | "newRhythms"> & { inRange: boolean },
): boolean {
  return demands.newNotes.length === 0 && demands.newRhythms.length === 0 && demands.inRange;
}

/**
 * What a line brings that is new, out of range or a snag, for each kind of player who can play it, in score order. Players
 * of one instrument and stage stand in one row where the line asks the same of them, whatever else they know.
 */
export function readinessOf(score: Score, seats: readonly KnowingSeat[]): ReadyRow[] {
  const rows = new Map<string, ReadyRow>();
  for (const kind of kindsOfSeats(seatsFor(forDrumsOnly(score), seats))) {
    const { instrumentId, stage, known } = kind[0]!;
    const demands = demandsOf(score, instrumentById(instrumentId), stage, known);
    const playerIds = kind.map(({ playerId }) => playerId);
    const key = JSON.stringify([instrumentId, stage, demands]);
    const row = rows.get(key);
    if (row) {
      row.playerIds.push(...playerIds);
      row.players = row.playerIds.length;
    } else rows.set(key, { instrumentId, stage, players: playerIds.length, playerIds, ...demands });
  }
  return [...rows.values()].sort(
    (a, b) => scorePlace(a.instrumentId) - scorePlace(b.instrumentId) || a.stage.localeCompare(b.stage),
  );
}

/** What a line asks of one player's instrument. */
export function demandsOf(score: Score, instrument: Instrument, stage: Stage, known: Known): LineDemands {
  const part = derivePart(score, instrument, stage, { known: known.notes });
  const fresh = newIn(vocabularyOf(part.score), known);
  const snags = snagsOf(part.score, instrument, stage).filter((snag) => snag.kind !== "out-of-range");
  const [gravest] = [...snags].sort((a, b) => b.weight - a.weight);
  return {
    newNotes: fresh.notes.map((pitch) => pitchName(pitch)),
    newConcert: fresh.notes.map((pitch) => pitchName(transposePitch(pitch, instrument.soundsBy), false)),
    newRhythms: fresh.rhythms,
    newSigns: fresh.signs,
    outOfRange: part.outOfRange.map((pitch) => pitchName(pitch)),
    snag: gravest ?? null,
    snags: snags.length,
    difficulty: difficultyOf(part.score, instrument, stage).total,
  };
}
