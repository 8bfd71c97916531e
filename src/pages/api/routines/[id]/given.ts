import { GiveBlock, giveBlock } from "../../../../services/warmups";
import { endpoint, idParam } from "../../../_endpoint";

export const POST = endpoint(GiveBlock, (actor, input, context) => giveBlock(actor, idParam(context), input));
