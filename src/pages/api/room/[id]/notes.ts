import { ServiceError } from "../../../../services/actor";
import { notesFor, roomAtHome, roomFor } from "../../../../services/room";
import { idParam, instrumentParam, read } from "../../../_endpoint";
import { isId } from "../../../_id";

/** One part of a line of the lesson, engraved; "concert" for the line as it sounds. */
export const GET = read(async (actor, context) => {
  const room = await (actor.kind === "player" ? roomAtHome : roomFor)(actor, idParam(context));
  const { searchParams } = context.url;
  const line = searchParams.get("line");
  if (!isId(line)) throw new ServiceError("not-found", "There is nothing at this address.");
  const part = searchParams.get("part") ?? "concert";
  context.params.instrument = part;
  return notesFor(room, line, part === "concert" ? part : instrumentParam(context));
});
