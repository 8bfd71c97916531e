import { GiveEarlier, giveEarlier } from "../../../../services/giving";
import { endpoint, idParam } from "../../../_endpoint";

/** Gives one player what the group had before they came. */
export const POST = endpoint(GiveEarlier, (actor, { playerId }, context) =>
  giveEarlier(actor, idParam(context), playerId),
);
