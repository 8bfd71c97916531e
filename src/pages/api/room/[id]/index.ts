import { roomView } from "../../../../services/room";
import { idParam, read } from "../../../_endpoint";

/** All that a wall or a phone needs of a lesson; the director's own words for the phone only. */
export const GET = read((actor, context) =>
  roomView(actor, idParam(context), context.url.searchParams.get("for") === "phone"),
);
