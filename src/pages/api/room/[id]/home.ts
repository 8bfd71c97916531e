import { SendRoomHome, sendRoomHome } from "../../../../services/room";
import { endpoint, idParam } from "../../../_endpoint";

/** What the class did goes home. */
export const POST = endpoint(SendRoomHome, (actor, input, context) =>
  sendRoomHome(actor, idParam(context), input),
);
