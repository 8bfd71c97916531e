import { handoutFile } from "../../../../services/pieces";
import { idParam, read, sound } from "../../../_endpoint";

/** A sheet or recording, whole or by range; for the band's directors and those on whose stand it is. */
export const GET = read(async (actor, context) =>
  sound(context.request, await handoutFile(actor, idParam(context))),
);
