import { recordingSound } from "../../../../services/shelf";
import { idParam, read, sound } from "../../../_endpoint";

/** A line's own recording, whole or by range; private to the band. */
export const GET = read(async (actor, context) =>
  sound(context.request, await recordingSound(actor, idParam(context))),
);
