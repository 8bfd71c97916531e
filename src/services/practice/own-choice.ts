import type { z } from "zod";
import { inTeachingOrder } from "../../core/plan";
import { MOST_CHOSEN, nextOwnLine } from "../../core/practice";
import { Band, type BookLine, Line, linesOfBook, type StandRow, tasksOfPlayer } from "../../data";
import { type Actor, found, type PlayerActor, player, ServiceError } from "../actor";
import { today } from "../calendar";
import { giveToOneself } from "../giving";
import { settingsOf } from "../settings";
import { weekOf } from "./log";
import type { ChooseLine } from "./schema";
import { standTask } from "./stand-task";
import type { StandTask } from "./wire";

/** Why there is nothing to choose, as the player is told. */
const REFUSALS = {
  "not-here": "In your band the director gives the lines.",
  first: "First what is asked for today, then more.",
  enough: `${MOST_CHOSEN} lines of your own choice are open. Put one back first.`,
  none: "There is no further line in your book yet.",
};

/**
 * The line that a player who is through may open next: of the book that was given last, the one after the furthest. The reason
 * where there is none.
 */
async function nextLineOf(
  who: PlayerActor,
  rows: readonly StandRow[],
  tasks: readonly StandTask[],
  band: Band,
): Promise<BookLine | keyof typeof REFUSALS> {
  if (!settingsOf(band).ownPace) return "not-here";
  const lying = (heap: StandTask["heap"]) => tasks.filter((task) => task.heap === heap).length;
  if (lying("todo") > 0) return "first";
  if (lying("chosen") >= MOST_CHOSEN) return "enough";
  const given = rows.filter(({ chosen }) => !chosen);
  // Rows come newest first.
  const book = given.find(({ bookId }) => bookId !== null)?.bookId;
  if (!book) return "none";
  const next = nextOwnLine(
    inTeachingOrder(await linesOfBook(who.bandId, book)),
    new Set(given.map(({ lineId }) => lineId)),
    new Set(rows.flatMap(({ chosen, lineId }) => (chosen ? [lineId] : []))),
  );
  return next ?? "none";
}

/** What the stand offers to who is through; null where it offers nothing. */
export async function nextOffer(
  who: PlayerActor,
  rows: readonly StandRow[],
  tasks: readonly StandTask[],
  band: Band,
): Promise<BookLine | null> {
  const next = await nextLineOf(who, rows, tasks, band);
  return typeof next === "string" ? null : next;
}

/** A player who is through opens the next line by own choice. */
export async function chooseLine(
  actor: Actor,
  { lineId }: z.output<typeof ChooseLine>,
): Promise<{ taskId: string }> {
  const who = player(actor);
  found(await Line.findOne({ where: { id: lineId, bandId: who.bandId } }), "line");
  const band = found(await Band.findByPk(who.bandId), "band");
  const rows = await tasksOfPlayer(who.playerId);
  // Pressed twice, or on two devices: it is there once.
  const there = rows.find((row) => row.chosen && row.lineId === lineId);
  if (there) return { taskId: there.id };
  const now = today(band.timeZone);
  const week = await weekOf(who.playerId, now, band.timeZone);
  const tasks = rows.map((row) => standTask(row, now, new Map(), week));
  const next = await nextLineOf(who, rows, tasks, band);
  if (typeof next === "string") throw new ServiceError("conflict", REFUSALS[next]);
  if (next.id !== lineId) throw new ServiceError("not-found", "This line is not the next one of your book.");
  return giveToOneself(who, lineId, now);
}
