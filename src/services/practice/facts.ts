import type { z } from "zod";
import { addDays } from "../../core/calendar";
import type { Fact, LineFact } from "../../core/practice";
import { Band, type FactRow, factCounts, keepFacts, Task } from "../../data";
import { type Actor, found, type PlayerActor, player, ServiceError } from "../actor";
import { today } from "../calendar";
import type { FactInput, KeepPractice } from "./schema";
import type { KeptFacts } from "./wire";

/** A device that was away hands over what is not older than this, days. */
const OLDEST_DAYS = 60;
/** Nobody does more in a day; a device gone mad does. */
const MOST_A_DAY = 800;
/** A clock that is off by less is right enough, ms. */
const RIGHT_CLOCK_MS = 120_000;

/**
 * Keeps what a device did while it was used, each fact once however often it is handed over. A clock that is wrong is set
 * right by what it said when it sent. What cannot be kept is told one by one, so that the rest is not held up.
 */
export async function keepPractice(
  actor: Actor,
  { playerId, sentAt, facts }: z.output<typeof KeepPractice>,
): Promise<KeptFacts> {
  const who = player(actor);
  if (playerId !== who.playerId)
    throw new ServiceError("not-found", "Somebody else is signed in at this device now.");
  const { timeZone } = found(await Band.findByPk(who.bandId), "band");
  const now = Date.now();
  const skew = now - Date.parse(sentAt);
  const shift = Math.abs(skew) > RIGHT_CLOCK_MS ? skew : 0;
  const own = await ownTasks(who, facts);
  const oldest = addDays(today(timeZone), -OLDEST_DAYS);
  const counts = await factCounts(who.playerId, oldest);
  const refused: KeptFacts["refused"] = [];
  const kept = facts.flatMap((fact) => {
    const { id, at: said, seconds, taskId = null, kind, day: _day, ...detail } = fact;
    const at = new Date(Math.min(now, Date.parse(said) + shift));
    const day = today(timeZone, at.getTime());
    const refuse = (message: string) => {
      refused.push({ id, message });
      return [];
    };
    if (taskId !== null && !own.has(taskId)) return refuse("This line is not on your stand.");
    if (day < oldest) return refuse("This was too long ago to be counted.");
    const count = (counts.get(day) ?? 0) + 1;
    counts.set(day, count);
    if (count > MOST_A_DAY) return refuse("So much cannot have been practised in a day.");
    return [
      {
        id,
        taskId,
        kind,
        at,
        day,
        seconds,
        detail: JSON.stringify(detail),
        bandId: who.bandId,
        playerId: who.playerId,
      },
    ];
  });
  await keepFacts(kept);
  return { kept: kept.map(({ id, at, day }) => ({ id, at: at.toISOString(), day })), refused };
}

async function ownTasks(
  who: PlayerActor,
  facts: readonly z.output<typeof FactInput>[],
): Promise<Set<string>> {
  const asked = [...new Set(facts.flatMap(({ taskId }) => taskId ?? []))];
  if (asked.length === 0) return new Set();
  const rows = await Task.findAll({
    where: { id: asked, playerId: who.playerId, bandId: who.bandId },
    attributes: ["id"],
  });
  return new Set(rows.map(({ id }) => id));
}

/** A stored fact as everybody else reads it. */
export function factOf({ id, taskId, kind, at, day, seconds, detail }: FactRow): Fact {
  return { ...detail, id, taskId, kind, at: at.toISOString(), day, seconds } as unknown as Fact;
}

const LINE_KINDS = new Set<string>(["round", "did", "left", "went", "offered"]);

/** Those facts that belong to the path of a line. */
export function lineFacts(facts: readonly Fact[]): LineFact[] {
  return facts.filter((fact): fact is LineFact & { taskId: string } => LINE_KINDS.has(fact.kind));
}

/** Results of counting activities as they were kept. */
export function countedIn(
  rows: readonly FactRow[],
): { day: string; activity: string; right: number; of: number }[] {
  return rows.flatMap((row) => {
    const fact = factOf(row);
    return fact.kind === "counting" ? [fact] : [];
  });
}
