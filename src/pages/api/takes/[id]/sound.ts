import { takeSound } from "../../../../services/listening";
import { idParam, read, sound } from "../../../_endpoint";

/** The recording, whole or by range; private to its player and the director. */
export const GET = read(async (actor, context) =>
  sound(context.request, await takeSound(actor, idParam(context))),
);
