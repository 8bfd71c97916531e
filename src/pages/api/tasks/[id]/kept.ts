import { KeepChosen, keepChosen } from "../../../../services/giving";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(KeepChosen, (actor, { kept }, context) =>
  keepChosen(actor, idParam(context), kept),
);
