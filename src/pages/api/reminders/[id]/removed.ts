import { setReminderRemoved } from "../../../../services/reminders";
import { SetRemoved } from "../../../../services/warmups";
import { endpoint, idParam } from "../../../_endpoint";

export const POST = endpoint(SetRemoved, (actor, { removed }, context) =>
  setReminderRemoved(actor, idParam(context), removed),
);
