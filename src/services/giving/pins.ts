import { v7 as uuid } from "uuid";
import { instrumentById } from "../../core/music";
import { agreedPart, derivePart, type Known, type Score } from "../../core/score";
import { partId as kindId } from "../../core/warmup";
import type { NamedSeat, Task } from "../../data";

export type Pins = Pick<Task, "stage" | "variant" | "partId" | "octaveShift">;
/** A seat with what its player knows, which the choice of the octave asks. */
type Reader = Pick<NamedSeat, "playerId" | "instrumentId" | "stage" | "variant" | "part"> & { known: Known };

/**
 * How the part of each seat is made today: what a task keeps, so that no later change moves notes under a take.
 * @param asked  a part for everybody, where the director chose one; else each player's own
 * @param parts  parts of single players, by player
 */
export function pinsFor(
  score: Score,
  asked: string | null,
  parts: Readonly<Record<string, string>> = {},
): (seat: Reader) => Pins {
  const made = new Map<Known, Map<string, Pins>>();
  return (seat) => {
    const { instrumentId, stage, variant, known } = seat;
    const chosen = parts[seat.playerId] ?? asked;
    const key = `${instrumentId}/${stage}/${variant}/${seat.part}/${chosen}`;
    const ofKnown = made.get(known) ?? new Map<string, Pins>();
    made.set(known, ofKnown);
    const before = ofKnown.get(key);
    if (before) return before;
    const instrument = instrumentById(instrumentId);
    const partId =
      score.purpose?.kind === "warm-up"
        ? warmUpPart(score, seat)
        : (chosen ?? agreedPart(score, instrumentId, seat.part));
    const { source, octaveShift } = derivePart(score, instrument, stage, { partId, known: known.notes });
    const pins = { stage, variant, partId: source.id, octaveShift };
    ofKnown.set(key, pins);
    return pins;
  };
}

/** Whether there is a part for this seat: a warm-up that was given holds parts for the kinds of players it was given to. */
export function reads(score: Score, seat: Omit<Reader, "known">): boolean {
  return score.purpose?.kind !== "warm-up" || warmUpPart(score, seat) !== null;
}

/** A warm-up holds a part for each kind of player; a kind it does not hold reads the nearest of its instrument. */
function warmUpPart(score: Score, { instrumentId, stage, variant }: Omit<Reader, "known">): string | null {
  const instrument = instrumentById(instrumentId);
  const exact = kindId({ instrument, stage, variant });
  if (score.parts.some((part) => part.id === exact)) return exact;
  return (
    score.parts.find((part) => part.id === instrumentId || part.id.startsWith(`${instrumentId}/`))?.id ?? null
  );
}

/** A task as it is made for a seat. */
export function newTask(
  bandId: string,
  assignmentId: string,
  { playerId, instrumentId }: NamedSeat,
  pins: Pins,
) {
  return { id: uuid(), bandId, assignmentId, playerId, instrumentId, ...pins, state: "open" as const };
}
