import { z } from "zod";
import { director } from "../../../../services/actor";
import { bringTake, LARGEST_BROUGHT } from "../../../../services/listening";
import { bodyBytes, check, idParam, read } from "../../../_endpoint";

const At = z.object({ at: z.coerce.date("When it was recorded cannot be read.") });

/** A recording that a director brings for a player's task. */
export const PUT = read(async (actor, context) => {
  director(actor);
  const { at } = check(At, Object.fromEntries(context.url.searchParams));
  return bringTake(actor, idParam(context), at, await bodyBytes(context.request, LARGEST_BROUGHT));
});
