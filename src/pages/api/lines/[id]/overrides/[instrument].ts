import { SetOverride, setOverride } from "../../../../../services/shelf";
import { endpoint, idParam } from "../../../../_endpoint";

export const PUT = endpoint(SetOverride, (actor, input, context) =>
  setOverride(actor, idParam(context), context.params.instrument ?? "", input),
);
