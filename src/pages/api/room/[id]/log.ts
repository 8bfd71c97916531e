import { NoteRoom, noteRoom } from "../../../../services/room";
import { endpoint, idParam } from "../../../_endpoint";

/** Taps of the log. */
export const POST = endpoint(NoteRoom, (actor, input, context) => noteRoom(actor, idParam(context), input));
