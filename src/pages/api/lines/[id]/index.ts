import { describeLine, LineAbout } from "../../../../services/shelf";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(LineAbout, (actor, input, context) =>
  describeLine(actor, idParam(context), input),
);
