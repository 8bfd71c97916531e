import { type Instrument, instrumentById, type Stage } from "../music";
import { demandsAtGlance, type Glance, type GlanceDemands, type Known } from "../score";
import { isReady } from "./line";
import { type KnowingSeat, kindsOfSeats, scorePlace, seatsFor } from "./seats";

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

/** Players of one instrument and stage who know the same. */
export interface AskedKind {
  instrument: Instrument;
  stage: Stage;
  known: Known;
  players: number;
}

/** The kinds of players of a band: those asked for a line with notes, and for one of rhythm alone. Made once for a whole shelf. */
export interface AskedBand {
  pitched: AskedKind[];
  unpitched: AskedKind[];
}

export function askedBand(seats: readonly KnowingSeat[]): AskedBand {
  const kinds = (unpitched: boolean) =>
    kindsOfSeats(seatsFor(unpitched, seats)).map((kind): AskedKind => {
      const { instrumentId, stage, known } = kind[0]!;
      return { instrument: instrumentById(instrumentId), stage, known, players: kind.length };
    });
  return { pitched: kinds(false), unpitched: kinds(true) };
}

/** What one kind of player was told of a line, by what they know: a change of one player asks only that kind anew. */
export type ToldKinds = WeakMap<Known, Map<string, GlanceDemands>>;

/**
 * Asks a line, boiled down, who of the band is ready, what is new for somebody, whether a clarinet crosses the break.
 * @param told  answers for this line that are known already; new ones are added
 */
export function askBand(glance: Glance, band: AskedBand, told: ToldKinds = new WeakMap()): BandAnswer {
  const bringsNew = new Set<string>();
  const families = new Map<string, boolean>();
  let readyPlayers = 0;
  let players = 0;
  let crossesBreak = false;
  for (const kind of glance.unpitched ? band.unpitched : band.pitched) {
    const demands = toldOf(glance, kind, told);
    const ready = isReady(demands);
    players += kind.players;
    if (ready) readyPlayers += kind.players;
    for (const name of demands.newNotes) bringsNew.add(name);
    crossesBreak ||= demands.crossesBreak;
    const { family } = kind.instrument;
    families.set(family, (families.get(family) ?? true) && ready);
  }
  return {
    bringsNew: [...bringsNew],
    readyPlayers,
    players,
    familiesAsked: [...families.keys()],
    readyFamilies: [...families].flatMap(([family, ready]) => (ready ? [family] : [])),
    crossesBreak,
  };
}

/** Players of one instrument who are asked the same by a line. */
export interface Asked {
  instrumentId: string;
  players: number;
  /** Written names of notes, and rhythms, they have not met. */
  newThings: string[];
  /** Some note lies outside the range of their stage. */
  outOfRange: boolean;
}

/** What a line, boiled down, asks of the players of a group, in score order; those of whom it asks nothing new among them. */
export function askEach(glance: Glance, band: AskedBand, told: ToldKinds = new WeakMap()): Asked[] {
  const asked = new Map<string, Asked>();
  for (const kind of glance.unpitched ? band.unpitched : band.pitched) {
    const { newNotes, newRhythms, inRange } = toldOf(glance, kind, told);
    const row: Asked = {
      instrumentId: kind.instrument.id,
      players: kind.players,
      newThings: [...newNotes, ...newRhythms],
      outOfRange: !inRange,
    };
    const key = JSON.stringify([row.instrumentId, row.newThings, row.outOfRange]);
    const same = asked.get(key);
    if (same) same.players += row.players;
    else asked.set(key, row);
  }
  return [...asked.values()].sort((a, b) => scorePlace(a.instrumentId) - scorePlace(b.instrumentId));
}

function toldOf(glance: Glance, { instrument, stage, known }: AskedKind, told: ToldKinds): GlanceDemands {
  const ofKnown = told.get(known) ?? new Map<string, GlanceDemands>();
  told.set(known, ofKnown);
  const key = `${instrument.id}/${stage}`;
  const before = ofKnown.get(key);
  if (before) return before;
  const demands = demandsAtGlance(glance, instrument, stage, known);
  ofKnown.set(key, demands);
  return demands;
}
