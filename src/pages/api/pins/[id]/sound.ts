import { director } from "../../../../services/actor";
import { LARGEST_PIN_SOUND, pinBySound, pinSound } from "../../../../services/listening";
import { bodyBytes, idParam, read, sound } from "../../../_endpoint";

/** A mark as it was spoken or played; for the player of the take and the directors. */
export const GET = read(async (actor, context) =>
  sound(context.request, await pinSound(actor, idParam(context))),
);

export const PUT = read(async (actor, context) => {
  director(actor);
  return pinBySound(actor, idParam(context), await bodyBytes(context.request, LARGEST_PIN_SOUND));
});
