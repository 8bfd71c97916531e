import { SetBuild, setBuild } from "../../../../../services/band";
import { endpoint, idParam, instrumentParam } from "../../../../_endpoint";

export const PUT = endpoint(SetBuild, (actor, input, context) =>
  setBuild(actor, idParam(context), instrumentParam(context), input),
);
