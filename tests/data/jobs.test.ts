import { QueryTypes, type Sequelize } from "sequelize";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { Job, migrate } from "../../src/data";
import { closeDatabase, database } from "../../src/server/database";
import { claim, enqueue, fail, finish } from "../../src/server/jobs";
import { freshDatabase } from "../support/application";

let drop: () => Promise<void>;
let db: Sequelize;

beforeAll(async () => {
  const fresh = await freshDatabase();
  drop = fresh.drop;
  process.env.DATABASE_URL = fresh.url;
  db = database();
  await migrate(db);
});
afterAll(async () => {
  await closeDatabase();
  await drop();
});
beforeEach(() => Job.destroy({ where: {} }));

describe("migrations", () => {
  it("leave nothing to do the second time, and can be begun again half-way", async () => {
    expect(await migrate(db)).toEqual([]);
    await db.query("DELETE FROM migrations WHERE name = '003-practice.ts' OR name = '003-practice'");
    expect(await migrate(db)).toEqual(["003-practice"]);
  });

  it("keep rows of one band from pointing into another", async () => {
    const rows = await db.query<{ table_name: string }>(
      "SELECT t.table_name AS table_name FROM information_schema.tables t WHERE t.table_schema = DATABASE() AND t.table_name IN ('tasks', 'takes', 'assignments', 'media', 'assessments', 'reviews', 'marks') AND NOT EXISTS (SELECT 1 FROM information_schema.key_column_usage k WHERE k.table_schema = DATABASE() AND k.table_name = t.table_name AND k.column_name = 'band_id' AND k.referenced_table_name IS NOT NULL)",
      { type: QueryTypes.SELECT },
    );
    expect(rows).toEqual([]);
  });

  it("refuse a mark of five and a session of nobody", async () => {
    await expect(
      db.query(
        "INSERT INTO sessions (token_hash, band_id, created_at, expires_at) VALUES ('x', 'x', NOW(3), NOW(3))",
      ),
    ).rejects.toThrow(/CONSTRAINT/);
    const [row] = await db.query<{ clause: string }>(
      "SELECT check_clause AS clause FROM information_schema.check_constraints WHERE constraint_schema = DATABASE() AND table_name = 'marks'",
      { type: QueryTypes.SELECT },
    );
    expect(row!.clause).toContain("between 1 and 4");
  });
});

describe("the queue", () => {
  it("takes the same work once, however often it is asked", async () => {
    await enqueue("assess-take", "t1");
    await enqueue("assess-take", "t1");
    expect(await Job.count()).toBe(1);
  });

  it("gives each job to one worker only", async () => {
    for (let i = 0; i < 12; i++) await enqueue("assess-take", `t${i}`);
    const claimed = (await Promise.all(Array.from({ length: 12 }, () => claim()))).filter(
      (job) => job !== null,
    );
    for (let more = await claim(); more; more = await claim()) claimed.push(more);
    expect(claimed).toHaveLength(12);
    expect(new Set(claimed.map((job) => job.id)).size).toBe(12);
  });

  it("gives a crashed worker's job to another when its lease has run out", async () => {
    await enqueue("assess-take", "t1");
    const first = await claim();
    expect(await claim()).toBeNull();
    await db.query("UPDATE jobs SET lease_until = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND");
    expect(await claim()).toMatchObject({ id: first!.id, attempts: 2 });
  });

  it("tries a failing job later, and gives it up after the fourth time", async () => {
    await enqueue("assess-take", "t1");
    const outcomes: boolean[] = [];
    for (let i = 0; i < 4; i++) {
      const job = await claim();
      outcomes.push(await fail(job!, "no luck"));
      expect(await claim()).toBeNull();
      await db.query("UPDATE jobs SET run_after = UTC_TIMESTAMP(3)");
    }
    expect(outcomes).toEqual([false, false, false, true]);
    expect(await claim()).toBeNull();
  });

  it("does not hand out finished work again", async () => {
    await enqueue("assess-take", "t1");
    await finish((await claim())!);
    await enqueue("assess-take", "t1");
    expect(await claim()).toBeNull();
  });
});
