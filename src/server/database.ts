import type { Sequelize } from "sequelize";
import { connect, defineModels } from "../data";
import { config } from "./config";

let open: Sequelize | undefined;

/** The process's connection pool, models bound. */
export function database(): Sequelize {
  if (!open) {
    open = connect(config().databaseUrl);
    defineModels(open);
  }
  return open;
}

export async function closeDatabase(): Promise<void> {
  await open?.close();
  open = undefined;
}
