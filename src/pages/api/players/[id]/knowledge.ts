import { OfPlayer, setTakenAway, todayOf } from "../../../../services/knowledge";
import { endpoint, idParam } from "../../../_endpoint";

/** Takes a thing away from what a player knows. */
export const DELETE = endpoint(OfPlayer, async (actor, input, context) =>
  setTakenAway(actor, idParam(context), input, await todayOf(actor)),
);
/** Gives it back. */
export const PUT = endpoint(OfPlayer, (actor, input, context) =>
  setTakenAway(actor, idParam(context), input, null),
);
