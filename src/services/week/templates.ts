import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { addDays } from "../../core/calendar";
import { mondayOf, type Strip } from "../../core/plan";
import { WeekTemplate } from "../../data";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { asPattern, stripsBetween } from "./ribbon";
import type { KeepTemplate } from "./schema";

const MOST_TEMPLATES = 50;

/** Keeps a week under a name: what is for everybody or an instrument; what single players catch up on is of its own week. */
export async function keepTemplate(
  actor: Actor,
  { name, of }: z.output<typeof KeepTemplate>,
): Promise<{ id: string }> {
  const who = director(actor);
  const { bandId } = who;
  const monday = mondayOf(of);
  const strips = (await stripsBetween(bandId, monday, addDays(monday, 6)))
    .filter(({ forWhom }) => forWhom.kind !== "player")
    .map(asPattern);
  if (strips.length === 0)
    throw new ServiceError("bad-input", "Nothing stands in this week that could be kept.");
  if ((await WeekTemplate.count({ where: { bandId, removedAt: null } })) >= MOST_TEMPLATES)
    throw new ServiceError(
      "bad-input",
      `A band keeps at most ${MOST_TEMPLATES} templates. Set some away first.`,
    );
  const id = uuid();
  await WeekTemplate.create({ id, bandId, name, monday, strips });
  await audit(who, "keep-template", id);
  return { id };
}

/** The strips of a template, in the week they were taken from. */
export async function templateStrips(actor: Actor, id: string): Promise<{ monday: string; strips: Strip[] }> {
  const { bandId } = director(actor);
  const { monday, strips } = found(await WeekTemplate.findOne({ where: { id, bandId } }), "template");
  return { monday, strips };
}

export async function setTemplateRemoved(actor: Actor, id: string, removed: boolean): Promise<void> {
  const who = director(actor);
  const template = found(await WeekTemplate.findOne({ where: { id, bandId: who.bandId } }), "template");
  await template.update({ removedAt: removed ? new Date() : null });
  await audit(who, removed ? "remove-template" : "restore-template", id);
}
