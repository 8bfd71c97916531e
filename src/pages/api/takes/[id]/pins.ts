import { KeepPin, keepPin } from "../../../../services/listening";
import { endpoint, idParam } from "../../../_endpoint";

export const POST = endpoint(KeepPin, (actor, input, context) => keepPin(actor, idParam(context), input));
