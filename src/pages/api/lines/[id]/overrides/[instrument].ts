import { SetOverride, setOverride } from "../../../../../services/shelf";
import { endpoint, idParam, instrumentParam } from "../../../../_endpoint";

export const PUT = endpoint(SetOverride, (actor, input, context) =>
  setOverride(actor, idParam(context), instrumentParam(context), input),
);
