import { LRUCache } from "lru-cache";
import { type AskedBand, askBand, askedBand, type BandAnswer, type ToldKinds } from "../../core/ready";
import { type Glance, type LineOutlineFacts, OUTLINE_VERSION } from "../../core/score";
import {
  LineRevision,
  plannedLines,
  type ShelfRow,
  type StoredOutline,
  scoreTexts,
  seatsOfBand,
  shelfRows,
  storedOutlines,
} from "../../data";
import { outlinesOf } from "../../server/scores";
import { type Actor, director } from "../actor";
import { bandKnowledge } from "../knowledge";
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
  const [rows, seats, archived, knowledge] = await Promise.all([
    shelfRows(bandId, false, MOST_LINES),
    seatsOfBand(bandId),
    archivedCount(bandId),
    bandKnowledge(bandId),
  ]);
  await learn(rows);
  const view: ShelfView = { lines: [], broken: [], archived };
  const band = askedBand(knowledge.seated(seats));
  const bandKey = `${knowledge.key}/${seats.length}`;
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
  view.lines = sameLines(bandId, view.lines);
  return view;
}

/** The list a band was shown last, while nothing in it changed: pages know it again and need not write it anew. */
function sameLines(bandId: string, lines: LineSummary[]): LineSummary[] {
  const before = shownLast.get(bandId);
  if (before?.length === lines.length && lines.every((line, i) => line === before[i])) return before;
  shownLast.set(bandId, lines);
  return lines;
}

const shownLast = new LRUCache<string, LineSummary[]>({ max: 50 });

/** What a plan needs to know of the lines of a shelf. */
export interface LineFacts {
  id: string;
  number: number | null;
  title: string;
  /** Place in the director's own order; null where it follows the book. */
  teachingPlace: number | null;
  outline: LineOutlineFacts;
  glance: Glance;
  told: ToldKinds;
}

/**
 * Lines of the shelf that can be read, in book order; others are told on the shelf itself.
 * @param lineIds  only these; the whole shelf when left out
 */
export async function lineFacts(
  bandId: string,
  lineIds: readonly string[] | null = null,
): Promise<LineFacts[]> {
  const rows = await plannedLines(bandId, lineIds, MOST_LINES);
  await learn(rows);
  return rows.flatMap(({ id, number, title, teachingPlace, revisionId }) => {
    const known = learned.get(revisionId);
    if (!known || "broken" in known) return [];
    const { outline, glance, told } = known;
    return [{ id, number, title, teachingPlace, outline, glance, told }];
  });
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
  | {
      outline: LineOutlineFacts;
      glance: Glance;
      /** What each kind of player was told of it. */
      told: ToldKinds;
      answer?: { bandKey: string; answer: BandAnswer };
      /** What was said of it last, and of what: a shelf that nothing happened to is not put together again. */
      said?: { of: string; summary: LineSummary };
    }
  | { broken: string };

/** Outlines this process has read, by revision; the least recently read go first. */
const learned = new LRUCache<string, Learned>({ max: 20_000 });
/** Lines computed in one request to the thread. */
const LINES_A_BATCH = 25;

/** Reads outlines of lines this process has not met; what is not stored, or by older rules, is computed in a thread and stored. */
async function learn(rows: readonly Pick<ShelfRow, "revisionId">[]): Promise<void> {
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
    "broken" in stored
      ? { broken: stored.broken }
      : { outline: stored.outline, glance: stored.glance, told: new WeakMap() },
  );
}

function summaryOf(
  row: ShelfRow,
  known: Exclude<Learned, { broken: string }>,
  band: AskedBand,
  bandKey: string,
): LineSummary {
  const of = `${bandKey}/${JSON.stringify(row)}`;
  if (known.said?.of === of) return known.said.summary;
  if (known.answer?.bandKey !== bandKey)
    known.answer = { bandKey, answer: askBand(known.glance, band, known.told) };
  const summary: LineSummary = {
    ...headOf(row),
    ...known.outline,
    ...known.answer.answer,
    rhythms: known.glance.vocabulary.rhythms,
    difficulty: known.glance.difficulty,
    assigned: row.assigned,
  };
  known.said = { of, summary };
  return summary;
}
