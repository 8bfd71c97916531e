import { TellDone } from "../../../../services/giving";
import { tickStrip } from "../../../../services/practice";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(TellDone, (actor, { done }, context) => tickStrip(actor, idParam(context), done));
