import { TellRoom, tellRoom } from "../../../../services/room";
import { endpoint, idParam } from "../../../_endpoint";

/** A phone's word to the wall. */
export const POST = endpoint(TellRoom, (actor, input, context) => tellRoom(actor, idParam(context), input));
