import { LRUCache } from "lru-cache";
import { daysBetween } from "../../core/calendar";
import { groupBy } from "../../core/lists";
import { instrumentById, type Stage } from "../../core/music";
import { type Knowledge, knowledgeOf } from "../../core/progress";
import type { KnowingSeat, Seat } from "../../core/ready";
import { type Known, knownAtStage } from "../../core/score";
import { bandState, type KnowledgeRows, knowledgeRows } from "../../data";
import { found } from "../actor";
import { today as todayIn } from "../calendar";

const atStage = new Map<string, Known>();

/** What anybody at a stage knows of an instrument: for parts that are shown to nobody in particular. */
export function knownAt(instrumentId: string, stage: Stage): Known {
  const key = `${instrumentId}/${stage}`;
  const known = atStage.get(key) ?? knownAtStage(instrumentById(instrumentId), stage);
  atStage.set(key, known);
  return known;
}

/** What everybody of a band knows, as it stands on a day. */
export interface BandKnowledge {
  /** Changes whenever somebody knows something else. */
  key: string;
  of(seat: Pick<Seat, "playerId" | "instrumentId" | "stage">): Knowledge;
  /** Seats with what their players know; players who know the same share it. */
  seated<S extends Seat>(seats: readonly S[]): (S & KnowingSeat)[];
}

/** Bands whose knowledge this process has read, by id. */
const read = new LRUCache<string, { key: string; knowledge: BandKnowledge }>({ max: 200 });
/** Equal knowledge is one object, so that players who know the same are asked the same question once. */
const shared = new LRUCache<string, Known>({ max: 20_000 });

/**
 * What the players of a band know today. Read once, and again only when something was taught, heard, taken away or moved.
 * @param on  as if it were this local day; today when left out
 */
export async function bandKnowledge(bandId: string, on?: string): Promise<BandKnowledge> {
  const state = found(await bandState(bandId), "band");
  const day = on ?? todayIn(state.timeZone);
  const key = `${bandId}/${state.version}/${day}`;
  const known = read.get(bandId);
  if (known?.key === key) return known.knowledge;
  const knowledge = knowledgeFrom(await knowledgeRows(bandId), day, key);
  if (on === undefined) read.set(bandId, { key, knowledge });
  return knowledge;
}

/** What one player knows today. */
export async function playerKnowledge(bandId: string, playerId: string, day: string): Promise<BandKnowledge> {
  return knowledgeFrom(await knowledgeRows(bandId, playerId), day, `${playerId}/${day}`);
}

function knowledgeFrom(rows: KnowledgeRows, today: string, key: string): BandKnowledge {
  const whose = (row: { playerId: string; instrumentId: string }) => `${row.playerId}/${row.instrumentId}`;
  const taught = groupBy(rows.taught, whose);
  const shown = groupBy(rows.shown, whose);
  const away = groupBy(rows.away, whose);
  const exempt = groupBy(rows.exempt, whose);
  const made = new Map<string, Knowledge>();
  const of: BandKnowledge["of"] = (seat) => {
    const who = whose(seat);
    const whole = `${who}/${seat.stage}`;
    const before = made.get(whole);
    if (before) return before;
    const knowledge = knowledgeOf({
      instrument: instrumentById(seat.instrumentId),
      stage: seat.stage,
      taught: taught.get(who) ?? [],
      shown: shown.get(who) ?? [],
      takenAway: away.get(who) ?? [],
      exempt: (exempt.get(who) ?? []).map(({ writtenMidi }) => writtenMidi),
      today,
    });
    const sameAs = `${seat.instrumentId}/${seat.stage}/${knowledge.hash}`;
    const known = shared.get(sameAs) ?? knowledge.known;
    shared.set(sameAs, known);
    const kept = { ...knowledge, known };
    made.set(whole, kept);
    return kept;
  };
  return {
    key,
    of,
    seated: (seats) => seats.map((seat) => ({ ...seat, known: of(seat).known })),
  };
}

/** Whole weeks since a day. */
export function weeksSince(day: string, today: string): number {
  return Math.max(0, Math.floor(daysBetween(day, today) / 7));
}
