import { tidyText } from "../../../core/text";
import { director } from "../../../services/actor";
import { keepReminder, LARGEST_REMINDER, listReminders } from "../../../services/reminders";
import { bodyBytes, read } from "../../_endpoint";

export const GET = read(async (actor) => ({ reminders: await listReminders(actor) }));

/** The sound travels as the body, its name in the address. */
export const POST = read(async (actor, { request, url }) => {
  director(actor);
  const name = tidyText(url.searchParams.get("name") ?? "").slice(0, 80);
  return keepReminder(actor, name, await bodyBytes(request, LARGEST_REMINDER));
});
