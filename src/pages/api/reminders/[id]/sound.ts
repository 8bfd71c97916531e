import { reminderSound } from "../../../../services/reminders";
import { idParam, read, sound } from "../../../_endpoint";

export const GET = read(async (actor, context) =>
  sound(context.request, await reminderSound(actor, idParam(context))),
);
