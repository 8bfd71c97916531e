import { SetMembers, setMembers } from "../../../../services/band";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(SetMembers, (actor, input, context) =>
  setMembers(actor, idParam(context), input),
);
