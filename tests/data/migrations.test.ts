import { QueryTypes, type Sequelize } from "sequelize";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { migrate } from "../../src/data";
import { bandInDatabase } from "../support/band";

/** Tables in which every row belongs to nobody in particular, or to several bands. */
const NOT_OF_A_BAND = ["bands", "users", "sign_in_attempts", "known_devices", "migrations", "recovery_codes"];

describe("an empty database", () => {
  let db: Sequelize;
  let close: () => Promise<void>;
  beforeAll(async () => {
    const band = await bandInDatabase();
    db = band.db;
    close = band.close;
  });
  afterAll(() => close());

  it("leaves nothing to do the second time, and each migration can be begun again half-way", async () => {
    expect(await migrate(db)).toEqual([]);
    const names = (
      await db.query<{ name: string }>("SELECT name FROM migrations ORDER BY name", {
        type: QueryTypes.SELECT,
      })
    ).map(({ name }) => name);
    await db.query("DELETE FROM migrations");
    expect(await migrate(db)).toEqual(names);
  });

  it("keeps rows of one band from pointing into another: every table is found by itself", async () => {
    const tables = (
      await db.query<{ name: string }>(
        "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE'",
        { type: QueryTypes.SELECT },
      )
    ).map(({ name }) => name);
    const without = await db.query<{ name: string }>(
      `SELECT t.table_name AS name FROM information_schema.tables t
       WHERE t.table_schema = DATABASE() AND t.table_type = 'BASE TABLE' AND NOT EXISTS
         (SELECT 1 FROM information_schema.columns c WHERE c.table_schema = DATABASE() AND c.table_name = t.table_name AND c.column_name = 'band_id')`,
      { type: QueryTypes.SELECT },
    );
    expect(without.map(({ name }) => name).sort()).toEqual([...NOT_OF_A_BAND].sort());
    // A foreign key between two tables that both have a band names it on both sides.
    const keys = await db.query<{ table: string; constraint: string; target: string; columns: string }>(
      `SELECT k.table_name AS \`table\`, k.constraint_name AS \`constraint\`, k.referenced_table_name AS target,
         GROUP_CONCAT(k.column_name) AS columns
       FROM information_schema.key_column_usage k WHERE k.table_schema = DATABASE() AND k.referenced_table_name IS NOT NULL
       GROUP BY k.table_name, k.constraint_name, k.referenced_table_name`,
      { type: QueryTypes.SELECT },
    );
    const ofBand = (name: string) => tables.includes(name) && !NOT_OF_A_BAND.includes(name);
    expect(
      keys.filter(
        ({ table, target, columns }) =>
          ofBand(table) && ofBand(target) && !columns.split(",").includes("band_id"),
      ),
    ).toEqual([]);
    // And every table of a band is tied to one by some key.
    const tied = new Set(keys.filter(({ columns }) => columns.includes("band_id")).map(({ table }) => table));
    expect(tables.filter((name) => ofBand(name) && !tied.has(name))).toEqual([]);
  });

  it.each([
    [
      "a mark of five",
      "INSERT INTO marks (take_id, band_id, criterion, score) VALUES ('x', 'x', 'notes', 5)",
    ],
    [
      "a session of nobody",
      "INSERT INTO sessions (token_hash, band_id, created_at, expires_at) VALUES ('x', 'x', NOW(3), NOW(3))",
    ],
    [
      "a warm-up line without its routine",
      "INSERT INTO `lines` (id, band_id, title, kind) SELECT UUID(), id, 'x', 'warm-up' FROM bands LIMIT 1",
    ],
    ["an A of 500 Hz", "UPDATE bands SET a4_hz = 500"],
  ])("refuses %s", async (_, statement) => {
    await expect(db.query(statement)).rejects.toThrow(/CONSTRAINT/);
  });
});
