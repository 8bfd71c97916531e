import { director } from "../../../../services/actor";
import { answerBySound, answerSound, LARGEST_ANSWER } from "../../../../services/practice";
import { bodyBytes, idParam, read, sound } from "../../../_endpoint";

/** An answer as it was spoken or played; for who asked and the directors. */
export const GET = read(async (actor, context) =>
  sound(context.request, await answerSound(actor, idParam(context))),
);

export const PUT = read(async (actor, context) => {
  director(actor);
  return answerBySound(actor, idParam(context), await bodyBytes(context.request, LARGEST_ANSWER));
});
