import { MarkMissed, markMissed } from "../../../../services/counting";
import { endpoint, idParam } from "../../../_endpoint";

export const POST = endpoint(MarkMissed, (actor, input, context) =>
  markMissed(actor, idParam(context), input),
);
