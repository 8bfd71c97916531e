import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import { v7 as uuid } from "uuid";
import { type Fact, MOST_FACTS_AT_ONCE } from "../core/practice";
import type { KeptFacts } from "../services/practice/wire";
import { ApiError, call } from "./api";
import { localDay } from "./day";

/** A fact on this device: kept until the bench has it, and a while longer for pages that are opened without network. */
interface KeptFact {
  id: string;
  owner: string;
  fact: Fact;
  sent: 0 | 1;
}

interface Shelf extends DBSchema {
  facts: { key: string; value: KeptFact; indexes: { owner: string } };
}

/** Sent facts stay so long, days: a reload without network still knows where the player stands. */
const KEPT_DAYS = 14;
let opened: Promise<IDBPDatabase<Shelf>> | undefined;
function shelf() {
  opened ??= openDB<Shelf>("ulu-practice", 1, {
    upgrade: (db) => {
      db.createObjectStore("facts", { keyPath: "id" }).createIndex("owner", "owner");
    },
    blocking: (_current, _wanted, event) => {
      (event.target as IDBDatabase).close();
      opened = undefined;
    },
  });
  return opened;
}

/** A fact without what is the same for all of them. */
export type Told = Fact extends infer F ? (F extends Fact ? Omit<F, "id" | "at" | "day"> : never) : never;

/**
 * Writes down what happened: on this device at once, to the bench as soon as there is a connection.
 * @returns the fact as it is kept
 */
export async function tell(owner: string, told: Told, today?: string): Promise<Fact> {
  const now = new Date();
  const fact = { ...told, id: uuid(), at: now.toISOString(), day: today ?? localDay(now) } as Fact;
  try {
    await (await shelf()).put("facts", { id: fact.id, owner, fact, sent: 0 });
  } catch {
    // A device that keeps nothing: told to the bench at once, or not at all.
    const alone = { playerId: owner, sentAt: now.toISOString(), facts: [fact] };
    await call("POST", "/api/practice", alone).catch(() => undefined);
    return fact;
  }
  void sendFacts(owner);
  return fact;
}

/** Facts of a player that this device knows of, sent or not. */
export async function factsHere(owner: string): Promise<Fact[]> {
  try {
    return (await (await shelf()).getAllFromIndex("facts", "owner", owner)).map(({ fact }) => fact);
  } catch {
    return [];
  }
}

let sending: Promise<void> | null = null;

/** Hands over what waits, oldest first; without a connection nothing changes. One turn at a time. */
export function sendFacts(owner: string): Promise<void> {
  sending ??= handOver(owner).finally(() => {
    sending = null;
  });
  return sending;
}

async function handOver(owner: string): Promise<void> {
  const db = await shelf().catch(() => null);
  if (!db) return;
  for (;;) {
    const kept = await db.getAllFromIndex("facts", "owner", owner);
    const waiting = kept
      .filter(({ sent }) => sent === 0)
      .sort((a, b) => a.fact.at.localeCompare(b.fact.at))
      .slice(0, MOST_FACTS_AT_ONCE);
    if (waiting.length === 0) return tidy(db, kept);
    try {
      await send(db, owner, waiting);
    } catch (error) {
      if (!(error instanceof ApiError && error.code === "bad-input")) return;
      // One that the bench cannot read would stand in the way of the others for ever: it alone is let go.
      for (const each of waiting)
        try {
          await send(db, owner, [each]);
        } catch (alone) {
          if (!(alone instanceof ApiError && alone.code === "bad-input")) return;
          await db.delete("facts", each.id);
        }
    }
  }
}

/** Hands some over for their owner; the bench takes them from nobody else, whoever is signed in by now. */
async function send(db: IDBPDatabase<Shelf>, playerId: string, some: readonly KeptFact[]): Promise<void> {
  const answer = await call<KeptFacts>("POST", "/api/practice", {
    playerId,
    sentAt: new Date().toISOString(),
    facts: some.map(({ fact }) => fact),
  });
  const byId = new Map(some.map((each) => [each.id, each]));
  for (const { id, at, day } of answer.kept) {
    const own = byId.get(id);
    if (own) await db.put("facts", { ...own, fact: { ...own.fact, at, day }, sent: 1 });
  }
  for (const { id } of answer.refused) await db.delete("facts", id);
}

async function tidy(db: IDBPDatabase<Shelf>, kept: readonly KeptFact[]): Promise<void> {
  const oldest = new Date(Date.now() - KEPT_DAYS * 86_400_000).toISOString();
  for (const { id, fact, sent } of kept) if (sent === 1 && fact.at < oldest) await db.delete("facts", id);
}

/** Leaves of a player only what the bench does not have yet: for the next child at this device. */
export async function forgetSent(): Promise<void> {
  const db = await shelf();
  for (const { id, sent } of await db.getAll("facts")) if (sent === 1) await db.delete("facts", id);
}
