import { QueryTypes, type Transaction } from "sequelize";
import { Band } from "../models";

/** Rows of a statement with `:name` replacements, on the connection the models are bound to. */
export function select<T extends object>(
  sql: string,
  replacements: Record<string, unknown> = {},
  transaction?: Transaction,
): Promise<T[]> {
  return Band.sequelize!.query<T>(sql, {
    replacements,
    type: QueryTypes.SELECT,
    ...(transaction ? { transaction } : {}),
  });
}

/** Runs a statement that gives no rows. @returns how many rows it touched */
export async function run(
  sql: string,
  replacements: Record<string, unknown> = {},
  transaction?: Transaction,
): Promise<number> {
  const [answer] = await Band.sequelize!.query(sql, {
    replacements,
    ...(transaction ? { transaction } : {}),
  });
  return Number((answer as { affectedRows?: number } | undefined)?.affectedRows ?? 0);
}

/** A JSON column as it comes from a plain statement. */
export function readJson<T>(value: T | string): T {
  return typeof value === "string" ? (JSON.parse(value) as T) : value;
}
