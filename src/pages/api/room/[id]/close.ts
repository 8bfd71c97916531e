import { CloseRoom, closeRoom, openAgain } from "../../../../services/room";
import { endpoint, idParam, read } from "../../../_endpoint";

/** Ends a lesson; the plan learns what became of it. */
export const POST = endpoint(CloseRoom, (actor, input, context) => closeRoom(actor, idParam(context), input));

/** Opens a lesson that was closed again. */
export const DELETE = read((actor, context) => openAgain(actor, idParam(context)));
