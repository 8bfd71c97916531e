import { SetRemoved, setRoutineRemoved } from "../../../../services/warmups";
import { endpoint, idParam } from "../../../_endpoint";

export const POST = endpoint(SetRemoved, (actor, { removed }, context) =>
  setRoutineRemoved(actor, idParam(context), removed),
);
