import { Exempt, setExempt } from "../../../../services/knowledge";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(Exempt, (actor, input, context) => setExempt(actor, idParam(context), input));
