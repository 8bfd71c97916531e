import type { Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import { AuditEntry } from "../data";
import type { Director, PlayerActor } from "./actor";

/** Notes who did what to which thing; part of the same transaction as the act. */
export async function audit(
  actor: Director | PlayerActor,
  action: string,
  subjectId: string,
  transaction?: Transaction,
): Promise<void> {
  const who = actor.kind === "director" ? `director ${actor.userId}` : `player ${actor.playerId}`;
  await AuditEntry.create(
    { id: uuid(), bandId: actor.bandId, actor: who, action, subjectId },
    { transaction: transaction ?? null },
  );
}
