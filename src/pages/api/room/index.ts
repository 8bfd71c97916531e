import { OpenRoom, openRoom } from "../../../services/room";
import { endpoint } from "../../_endpoint";

/** Opens the lesson of a group on a day on the wall. */
export const POST = endpoint(OpenRoom, (actor, input) => openRoom(actor, input));
