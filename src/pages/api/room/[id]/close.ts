import { CloseRoom, closeRoom } from "../../../../services/room";
import { endpoint, idParam } from "../../../_endpoint";

/** Ends a lesson; the plan learns what became of it. */
export const POST = endpoint(CloseRoom, (actor, input, context) => closeRoom(actor, idParam(context), input));
