import { OpenToPhones, setDoor } from "../../../../services/room";
import { endpoint, idParam } from "../../../_endpoint";

/** A new code for phones, or none any more. */
export const PUT = endpoint(OpenToPhones, (actor, { open }, context) =>
  setDoor(actor, idParam(context), open),
);
