import { instrumentById } from "../music";
import { demandsAtGlance, type Glance } from "../score";
import { isReady } from "./line";
import { type KnowingSeat, kindsOfSeats, seatsFor } from "./seats";

/** What a shelf says of a line and a whole band. */
export interface BandAnswer {
  /** Written names of notes that are new for somebody. */
  bringsNew: string[];
  readyPlayers: number;
  /** Players who can play it at all. */
  players: number;
  /** Instrument families all of whose players are ready. */
  readyFamilies: string[];
  /** Instrument families that have somebody to play it. */
  familiesAsked: string[];
  /** Some clarinet steps over the break. */
  crossesBreak: boolean;
}

/** Asks a line, boiled down, who of the band is ready, what is new for somebody, whether a clarinet crosses the break. */
export function askBand(glance: Glance, seats: readonly KnowingSeat[]): BandAnswer {
  const taken = seatsFor(glance.unpitched, seats);
  const bringsNew = new Set<string>();
  const families = new Map<string, boolean>();
  let readyPlayers = 0;
  let crossesBreak = false;
  for (const kind of kindsOfSeats(taken)) {
    const { instrumentId, stage, known } = kind[0]!;
    const instrument = instrumentById(instrumentId);
    const demands = demandsAtGlance(glance, instrument, stage, known);
    const ready = isReady(demands);
    if (ready) readyPlayers += kind.length;
    for (const name of demands.newNotes) bringsNew.add(name);
    crossesBreak ||= demands.crossesBreak;
    families.set(instrument.family, (families.get(instrument.family) ?? true) && ready);
  }
  return {
    bringsNew: [...bringsNew],
    readyPlayers,
    players: taken.length,
    familiesAsked: [...families.keys()],
    readyFamilies: [...families].flatMap(([family, ready]) => (ready ? [family] : [])),
    crossesBreak,
  };
}
