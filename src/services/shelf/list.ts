import { LRUCache } from "lru-cache";
import { askBand, type BandAnswer, type KnowingSeat } from "../../core/ready";
import { type Glance, type LineOutlineFacts, OUTLINE_VERSION } from "../../core/score";
import {
  LineRevision,
  type ShelfRow,
  type StoredOutline,
  scoreTexts,
  seatsOfBand,
  shelfRows,
  storedOutlines,
} from "../../data";
import { outlinesOf } from "../../server/scores";
import { type Actor, director } from "../actor";
import { withKnown } from "../known";
import { archivedCount } from "./archive";
import type { LineHead, LineSummary, ShelfView } from "./schema";

/** A shelf larger than this is cut; nobody teaches so many lines. */
const MOST_LINES = 5000;

/**
 * Every line on the shelf with what a director chooses by, in book order. What was computed when a line was stored is read,
 * not computed again; a line that fails is listed with its reason beside the others.
 */
export async function shelfView(actor: Actor): Promise<ShelfView> {
  const { bandId } = director(actor);
  const [rows, seats, archived] = await Promise.all([
    shelfRows(bandId, false, MOST_LINES),
    seatsOfBand(bandId),
    archivedCount(bandId),
  ]);
  await learn(rows);
  const view: ShelfView = { lines: [], broken: [], archived };
  const band = withKnown(seats);
  const bandKey = JSON.stringify(seats.map((seat) => [seat.playerId, seat.instrumentId, seat.stage]));
  let breath = performance.now();
  for (const row of rows) {
    const known = learned.get(row.revisionId);
    if (!known) continue;
    if ("broken" in known) {
      view.broken.push({ ...headOf(row), assigned: row.assigned, reason: known.broken });
      continue;
    }
    view.lines.push(summaryOf(row, known, band, bandKey));
    if (performance.now() - breath > LONGEST_HOLD_MS) {
      await new Promise((resolve) => setImmediate(resolve));
      breath = performance.now();
    }
  }
  return view;
}

/** The lines of the shelf that can be shown. */
export async function listLines(actor: Actor): Promise<LineSummary[]> {
  return (await shelfView(actor)).lines;
}

/** Others are answered in between when a large shelf is asked for the first time, ms. */
const LONGEST_HOLD_MS = 8;

function headOf({
  revisionId: _revision,
  assigned: _assigned,
  everGiven: _given,
  ...head
}: ShelfRow): LineHead {
  return head;
}

type Learned =
  | { outline: LineOutlineFacts; glance: Glance; answer?: { bandKey: string; answer: BandAnswer } }
  | { broken: string };

/** Outlines this process has read, by revision; the least recently read go first. */
const learned = new LRUCache<string, Learned>({ max: 20_000 });
/** Lines computed in one request to the thread. */
const LINES_A_BATCH = 25;

/** Reads outlines of lines this process has not met; what is not stored, or by older rules, is computed in a thread and stored. */
async function learn(rows: readonly ShelfRow[]): Promise<void> {
  const unread = rows.flatMap(({ revisionId }) => (learned.has(revisionId) ? [] : [revisionId]));
  const stale: string[] = [];
  for (const { id, outline } of await storedOutlines(unread)) {
    if (outline?.version === OUTLINE_VERSION) remember(id, outline);
    else stale.push(id);
  }
  for (let at = 0; at < stale.length; at += LINES_A_BATCH) {
    const texts = await scoreTexts(stale.slice(at, at + LINES_A_BATCH));
    for (const { id, outline } of await computed(texts)) {
      remember(id, outline);
      await LineRevision.update({ outline }, { where: { id } });
    }
  }
}

/** A batch that overruns is asked line by line, so that one line never hides the others. */
async function computed(
  texts: { id: string; text: string }[],
): Promise<{ id: string; outline: StoredOutline }[]> {
  try {
    return await outlinesOf(texts);
  } catch (error) {
    const [only] = texts;
    if (texts.length > 1) return (await Promise.all(texts.map((text) => computed([text])))).flat();
    return only
      ? [{ id: only.id, outline: { version: OUTLINE_VERSION, broken: (error as Error).message } }]
      : [];
  }
}

function remember(revisionId: string, stored: StoredOutline): void {
  learned.set(
    revisionId,
    "broken" in stored ? { broken: stored.broken } : { outline: stored.outline, glance: stored.glance },
  );
}

function summaryOf(
  row: ShelfRow,
  known: Exclude<Learned, { broken: string }>,
  band: readonly KnowingSeat[],
  bandKey: string,
): LineSummary {
  if (known.answer?.bandKey !== bandKey) known.answer = { bandKey, answer: askBand(known.glance, band) };
  return {
    ...headOf(row),
    ...known.outline,
    ...known.answer.answer,
    rhythms: known.glance.vocabulary.rhythms,
    difficulty: known.glance.difficulty,
    assigned: row.assigned,
  };
}
