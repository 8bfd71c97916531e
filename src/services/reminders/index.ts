import { v7 as uuid } from "uuid";
import { Media, Reminder } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found } from "../actor";
import { audit } from "../audit";
import { keepSound } from "../keep-sound";
import type { ReminderView } from "./schema";

export { LARGEST_REMINDER } from "./schema";

/** The director's spoken reminders, oldest first. */
export async function listReminders(actor: Actor): Promise<ReminderView[]> {
  const { bandId } = director(actor);
  const rows = await Reminder.findAll({
    where: { bandId, removedAt: null },
    order: [["id", "ASC"]],
    limit: 200,
  });
  return rows.map(({ id, name }) => ({ id, name }));
}

/** Keeps a reminder for every play-along to come. */
export async function keepReminder(actor: Actor, name: string, bytes: Uint8Array): Promise<{ id: string }> {
  const who = director(actor);
  const id = uuid();
  const keep = await keepSound(who.bandId, `reminders/${who.bandId}/${id}`, bytes);
  await database().transaction(async (transaction) => {
    const mediaId = await keep(transaction);
    await Reminder.create({ id, bandId: who.bandId, mediaId, name: name || "Reminder" }, { transaction });
    await audit(who, "keep-reminder", id, transaction);
  });
  return { id };
}

/** Takes a reminder away, or brings it back. */
export async function setReminderRemoved(actor: Actor, id: string, removed: boolean): Promise<void> {
  const who = director(actor);
  const reminder = found(await Reminder.findOne({ where: { id, bandId: who.bandId } }), "reminder");
  await reminder.update({ removedAt: removed ? new Date() : null });
}

/** Where the bytes of a reminder are. */
export async function reminderSound(
  actor: Actor,
  id: string,
): Promise<{ storeKey: string; contentType: string; bytes: number }> {
  const { bandId } = director(actor);
  const reminder = found(await Reminder.findOne({ where: { id, bandId } }), "reminder");
  const media = found(await Media.findByPk(reminder.mediaId), "reminder");
  return { storeKey: media.storeKey, contentType: media.contentType, bytes: Number(media.bytes) };
}
