import { TellDone, tellDone } from "../../../../services/giving";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(TellDone, (actor, { done }, context) => tellDone(actor, idParam(context), done));
