import { KeepRoomState, keepState } from "../../../../services/room";
import { endpoint, idParam } from "../../../_endpoint";

/** What the wall shows, kept. */
export const PUT = endpoint(KeepRoomState, (actor, input, context) =>
  keepState(actor, idParam(context), input),
);
