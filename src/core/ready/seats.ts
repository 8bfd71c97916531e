import { groupBy } from "../lists";
import { INSTRUMENTS, instrumentById, type Stage } from "../music";
import type { Known } from "../score";

/** One instrument of one player. */
export interface Seat {
  playerId: string;
  instrumentId: string;
  stage: Stage;
  /** Build of the instrument; the usual one when null. */
  variant: string | null;
}

/** A seat with what its player knows on this instrument. Players who know the same may share one `Known`. */
export interface KnowingSeat extends Seat {
  known: Known;
}

/**
 * The seat each player takes for a line, none for those who cannot play it: a percussionist with bells and snare takes
 * the bells for a pitched line, and an unpitched line is for unpitched instruments only.
 *
 * @example
 * seatsFor(true, [
 *   { playerId: "kofi", instrumentId: "bells" },
 *   { playerId: "kofi", instrumentId: "snare" },
 *   { playerId: "ines", instrumentId: "clarinet" },
 * ]).map((seat) => seat.instrumentId) // => ["snare"]
 */
export function seatsFor<S extends Pick<Seat, "playerId" | "instrumentId">>(
  unpitchedLine: boolean,
  seats: readonly S[],
): S[] {
  const pitched = (seat: S) => instrumentById(seat.instrumentId).ranges !== null;
  const byPlayer = new Map<string, S>();
  for (const seat of seats) {
    if (unpitchedLine && pitched(seat)) continue;
    const taken = byPlayer.get(seat.playerId);
    if (!taken || (!pitched(taken) && pitched(seat))) byPlayer.set(seat.playerId, seat);
  }
  return [...byPlayer.values()];
}

/** Where an instrument stands in a score, from the top; used to order players, rows and sheets. */
export function scorePlace(instrumentId: string): number {
  return INSTRUMENTS.findIndex(({ id }) => id === instrumentId);
}

/** Seats whose players are asked the same of: one instrument, stage and knowledge; notes are not asked by build. */
export function kindsOfSeats<S extends KnowingSeat>(seats: readonly S[]): S[][] {
  const numbers = new Map([...new Set(seats.map((seat) => seat.known))].map((known, i) => [known, i]));
  const kindOf = (seat: S) => `${seat.instrumentId}/${seat.stage}/${numbers.get(seat.known)}`;
  return [...groupBy(seats, kindOf).values()];
}
