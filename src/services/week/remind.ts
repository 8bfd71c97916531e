import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { addDays, whyOff } from "../../core/calendar";
import { groupBy } from "../../core/lists";
import { isAskedFor } from "../../core/practice";
import { assignmentsDue, Band, OutboxLetter, openTasks, User } from "../../data";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { dayLabel, today } from "../calendar";
import { settingsOf } from "../settings";
import type { Remind } from "./schema";

/**
 * Writes a reminder of what has not been sent: one letter for all families, which names lines, days and groups and no child.
 *
 * @throws ServiceError on a day off until that was said, and when nothing is missing
 */
export async function remind(actor: Actor, { sure }: z.output<typeof Remind>): Promise<{ letterId: string }> {
  const who = director(actor);
  const band = found(await Band.findByPk(who.bandId), "band");
  const { email } = found(await User.findByPk(who.userId), "director");
  const now = today(band.timeZone);
  const off = whyOff(now, settingsOf(band));
  if (off && !sure)
    throw new ServiceError(
      "conflict",
      `Today is off (${off}). Press once more to write the reminder all the same.`,
      { sure: "day-off" },
    );
  const assignments = (await assignmentsDue(who.bandId, addDays(now, -7))).filter((given) =>
    isAskedFor(given, now),
  );
  const open = groupBy(await openTasks(assignments.map(({ id }) => id)), ({ assignmentId }) => assignmentId);
  const lines = assignments.flatMap(({ id, lineNumber, lineTitle, groupName, dueDate }) => {
    const missing = open.get(id)?.length ?? 0;
    const title = lineNumber ? `No. ${lineNumber}, ${lineTitle}` : lineTitle;
    return missing > 0
      ? [`- ${title} (${groupName}): ${dueDate < now ? "was due" : "due"} ${dayLabel(dueDate)}`]
      : [];
  });
  if (lines.length === 0)
    throw new ServiceError("conflict", "Everything has been sent; nobody needs a reminder.");
  const letterId = uuid();
  await OutboxLetter.create({
    id: letterId,
    bandId: who.bandId,
    recipient: email,
    subject: `${band.name}: still to be recorded`,
    body: `Dear families,\n\nsome recordings are still to come:\n\n${lines.join("\n")}\n\nTwo or three minutes a day are enough. Whoever has sent everything need do nothing.\n\n${who.name}`,
    createdAt: new Date(),
  });
  await audit(who, "write-reminder", letterId);
  return { letterId };
}
