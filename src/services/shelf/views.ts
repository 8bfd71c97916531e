import { UniqueConstraintError } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { SavedView } from "../../data";
import { type Actor, director, found, ServiceError } from "../actor";
import type { SavedViewRow, SaveView } from "./schema";

const MOST_VIEWS = 30;

/** The filters this director keeps. */
export async function savedViews(actor: Actor): Promise<SavedViewRow[]> {
  const { bandId, userId } = director(actor);
  const rows = await SavedView.findAll({ where: { bandId, userId }, order: [["name", "ASC"]] });
  return rows.map(({ id, name, filter }) => ({ id, name, filter: filter as SavedViewRow["filter"] }));
}

export async function saveView(actor: Actor, input: z.output<typeof SaveView>): Promise<{ id: string }> {
  const { bandId, userId } = director(actor);
  if ((await SavedView.count({ where: { bandId, userId } })) >= MOST_VIEWS)
    throw new ServiceError("bad-input", `There are ${MOST_VIEWS} saved views already; remove one first.`);
  const id = uuid();
  try {
    await SavedView.create({ id, bandId, userId, ...input });
  } catch (error) {
    if (error instanceof UniqueConstraintError)
      throw new ServiceError("conflict", `There is already a view named ${input.name}.`, {
        name: "Choose another name.",
      });
    throw error;
  }
  return { id };
}

export async function removeView(actor: Actor, viewId: string): Promise<void> {
  const { bandId, userId } = director(actor);
  await found(await SavedView.findOne({ where: { id: viewId, bandId, userId } }), "view").destroy();
}
