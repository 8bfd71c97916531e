import { SetAtHome, setAtHome } from "../../../../services/room";
import { endpoint, idParam } from "../../../_endpoint";

/** The players of a lesson may do it alone, or no more. */
export const PUT = endpoint(SetAtHome, (actor, { open }, context) =>
  setAtHome(actor, idParam(context), open),
);
