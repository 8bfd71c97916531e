import { giveDrill } from "../../../../services/counting";
import { GiveOut } from "../../../../services/giving";
import { endpoint, idParam } from "../../../_endpoint";

export const POST = endpoint(GiveOut, (actor, input, context) => giveDrill(actor, idParam(context), input));
