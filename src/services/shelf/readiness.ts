import { QueryTypes } from "sequelize";
import {
  INSTRUMENTS,
  type Instrument,
  instrumentById,
  pitchName,
  type Stage,
  transposePitch,
} from "../../core/music";
import {
  demandsAtGlance,
  derivePart,
  difficultyOf,
  forDrumsOnly,
  type Glance,
  type GlanceDemands,
  type Known,
  knownAtStage,
  newIn,
  type Score,
  snagsOf,
  vocabularyOf,
} from "../../core/score";
import { database } from "../../server/database";
import type { LineSummary, ReadinessRow } from "./schema";

/** One instrument of one player. */
interface Seat {
  playerId: string;
  instrumentId: string;
  stage: Stage;
}

/** Who sits in the band with which instruments. */
export async function seatsOf(bandId: string): Promise<Seat[]> {
  return database().query<Seat>(
    `SELECT p.id AS playerId, i.instrument_id AS instrumentId, p.stage FROM players p
     JOIN player_instruments i ON i.player_id = p.id AND i.to_date IS NULL
     WHERE p.band_id = ? ORDER BY p.id, i.from_date, i.instrument_id`,
    { replacements: [bandId], type: QueryTypes.SELECT },
  );
}

/**
 * The seat each player takes for a line, none for those who cannot play it: a percussionist with bells and snare takes
 * the bells for a pitched line, and an unpitched line is for unpitched instruments only.
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

/** What a line brings that is new, out of range or a snag, by instrument and stage of those who can play it, in score order. */
export function readinessOf(score: Score, seats: readonly Seat[]): ReadinessRow[] {
  const groups = new Map<string, Seat[]>();
  for (const seat of seatsFor(forDrumsOnly(score), seats)) {
    const key = `${seat.instrumentId}/${seat.stage}`;
    groups.set(key, [...(groups.get(key) ?? []), seat]);
  }
  const place = (row: ReadinessRow) =>
    INSTRUMENTS.findIndex((instrument) => instrument.id === row.instrumentId);
  return [...groups.values()]
    .map((group): ReadinessRow => {
      const { instrumentId, stage } = group[0]!;
      const instrument = instrumentById(instrumentId);
      return {
        instrumentId,
        instrument: instrument.name,
        stage,
        players: group.length,
        ...demandsOf(score, instrument, stage),
      };
    })
    .sort((a, b) => place(a) - place(b) || a.stage.localeCompare(b.stage));
}

type BandAnswer = Pick<
  LineSummary,
  "bringsNew" | "readyPlayers" | "players" | "readyFamilies" | "familiesAsked" | "crossesBreak"
>;

/** What was last answered for a line, and for which band. */
const answered = new WeakMap<Glance, { band: string; answer: BandAnswer }>();

/**
 * Asks line after line who of the band is ready, what is new for somebody, whether a clarinet crosses the break.
 * As long as nobody comes, goes or moves on, a line is asked once.
 */
export function bandAtGlance(seats: readonly Seat[]): (glance: Glance) => BandAnswer {
  const band = JSON.stringify(seats);
  return (glance) => {
    const before = answered.get(glance);
    if (before?.band === band) return before.answer;
    const answer = askBand(glance, seats);
    answered.set(glance, { band, answer });
    return answer;
  };
}

function askBand(glance: Glance, seats: readonly Seat[]): BandAnswer {
  const taken = seatsFor(glance.unpitched, seats);
  const bringsNew = new Set<string>();
  const families = new Map<string, boolean>();
  const asked = new Map<string, GlanceDemands>();
  let readyPlayers = 0;
  let crossesBreak = false;
  for (const { instrumentId, stage } of taken) {
    const instrument = instrumentById(instrumentId);
    const key = `${instrumentId}/${stage}`;
    const demands =
      asked.get(key) ?? demandsAtGlance(glance, instrument, stage, knownOnce(key, instrument, stage));
    asked.set(key, demands);
    const ready = demands.newNotes.length === 0 && demands.newRhythms.length === 0 && demands.inRange;
    if (ready) readyPlayers++;
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

const knownSets = new Map<string, Known>();

function knownOnce(key: string, instrument: Instrument, stage: Stage): Known {
  const known = knownSets.get(key) ?? knownAtStage(instrument, stage);
  knownSets.set(key, known);
  return known;
}

/** What a line asks of one instrument at a stage. */
function demandsOf(
  score: Score,
  instrument: Instrument,
  stage: Stage,
): Pick<
  ReadinessRow,
  "newNotes" | "newConcert" | "newRhythms" | "newSigns" | "outOfRange" | "snag" | "snags" | "difficulty"
> {
  const part = derivePart(score, instrument, stage);
  const fresh = newIn(vocabularyOf(part.score), knownAtStage(instrument, stage));
  const snags = snagsOf(part.score, instrument, stage).filter((snag) => snag.kind !== "out-of-range");
  const gravest = [...snags].sort((a, b) => b.weight - a.weight)[0];
  return {
    newNotes: fresh.notes.map((pitch) => pitchName(pitch)),
    newConcert: fresh.notes.map((pitch) => pitchName(transposePitch(pitch, instrument.soundsBy), false)),
    newRhythms: fresh.rhythms,
    newSigns: fresh.signs,
    outOfRange: part.outOfRange.map((pitch) => pitchName(pitch)),
    snag: gravest ? `bar ${gravest.measure}: ${gravest.reason}` : null,
    snags: snags.length,
    difficulty: difficultyOf(part.score, instrument, stage).total,
  };
}
