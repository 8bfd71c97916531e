import { OverruleTake, overruleTake } from "../../../../services/listening";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(OverruleTake, (actor, input, context) =>
  overruleTake(actor, idParam(context), input),
);
