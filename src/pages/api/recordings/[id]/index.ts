import { SetBars, setBars } from "../../../../services/shelf";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(SetBars, (actor, input, context) => setBars(actor, idParam(context), input));
