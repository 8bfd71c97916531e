import { setDrillRemoved } from "../../../../services/counting";
import { SetRemoved } from "../../../../services/warmups";
import { endpoint, idParam } from "../../../_endpoint";

export const POST = endpoint(SetRemoved, (actor, { removed }, context) =>
  setDrillRemoved(actor, idParam(context), removed),
);
