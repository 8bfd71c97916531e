import { SetBuild, setBuild } from "../../../../../services/band";
import { endpoint, idParam } from "../../../../_endpoint";

export const PUT = endpoint(SetBuild, (actor, input, context) =>
  setBuild(actor, idParam(context), context.params.instrument ?? "", input),
);
