import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gunzipSync } from "node:zlib";
import { createConnection } from "mariadb";
import { QueryTypes, type Sequelize } from "sequelize";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Band, migrate, Task } from "../../src/data";
import { closeDatabase, database } from "../../src/server/database";
import { pinOldTasks } from "../../src/services/giving";
import { listenQueue } from "../../src/services/listening";
import { stand, taskDetail } from "../../src/services/practice";
import { listLines } from "../../src/services/shelf";
import { freshDatabase } from "../support/application";

describe("the first release, with the demo band's data", () => {
  let drop: () => Promise<void>;
  let db: Sequelize;
  let home: string;
  const dump = join(import.meta.dirname, "fixtures/release-1.sql.gz");

  beforeAll(async () => {
    const fresh = await freshDatabase();
    drop = fresh.drop;
    const { username, password, port, pathname } = new URL(fresh.url);
    execFileSync(
      "mariadb",
      ["--no-defaults", "-h127.0.0.1", `-P${port}`, `-u${username}`, `-p${password}`, pathname.slice(1)],
      { input: gunzipSync(readFileSync(dump)), stdio: ["pipe", "ignore", "inherit"] },
    );
    process.env.DATABASE_URL = fresh.url;
    home = mkdtempSync(join(tmpdir(), "ulu-upgrade-"));
    process.env.ULU_HOME = home;
    db = database();
  });
  afterAll(async () => {
    await closeDatabase();
    await drop();
    rmSync(home, { recursive: true, force: true });
  });

  it("comes to the newest form with nothing lost, and every old task keeps its notes", async () => {
    const connection = await createConnection(process.env.DATABASE_URL!);
    const count = async (table: string) =>
      Number((await connection.query<{ n: bigint }[]>(`SELECT COUNT(*) AS n FROM ${table}`))[0]!.n);
    const TABLES = [
      "players",
      "tasks",
      "takes",
      "assessments",
      "reviews",
      "marks",
      "`lines`",
      "jobs",
      "media",
    ];
    const before = await Promise.all(TABLES.map(count));
    expect(before.every((rows) => rows > 0)).toBe(true);
    expect((await migrate(db))[0]).toBe("014-sound-ground");
    expect(await Promise.all(TABLES.map(count))).toEqual(before);
    expect(await pinOldTasks()).toBe(await Task.count());
    expect(await Task.count({ where: { octaveShift: null } })).toBe(0);
    expect(await pinOldTasks()).toBe(0);
    await connection.end();
  }, 60_000);

  it("then shows shelf, queue and stands as before", async () => {
    const band = (await Band.findOne())!;
    const [row] = await db.query<{ userId: string }>("SELECT user_id AS userId FROM memberships", {
      type: QueryTypes.SELECT,
    });
    const director = { kind: "director" as const, userId: row!.userId, bandId: band.id, name: "" };
    const lines = await listLines(director);
    expect(lines).toHaveLength(15);
    expect(lines.every((line) => line.players > 0 && line.bars > 0)).toBe(true);
    expect((await listenQueue(director)).items.length).toBeGreaterThan(10);
    const task = (await Task.findOne({ where: { instrumentId: "horn" } }))!;
    const player = { kind: "player" as const, playerId: task.playerId, bandId: band.id, name: "" };
    expect((await stand(player)).tasks.length).toBeGreaterThan(0);
    const detail = await taskDetail(player, task.id, "medium");
    expect(detail.part.octaveShift).toBe(task.octaveShift);
  }, 120_000);
});
