import { SetRemoved, setLineRemoved } from "../../../../services/shelf";
import { endpoint, idParam } from "../../../_endpoint";

export const POST = endpoint(SetRemoved, (actor, { removed }, context) =>
  setLineRemoved(actor, idParam(context), removed),
);
