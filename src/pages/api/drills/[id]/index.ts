import { drillDetail, SaveDrill, saveDrill } from "../../../../services/counting";
import { endpoint, idParam, read } from "../../../_endpoint";

export const GET = read((actor, context) => drillDetail(actor, idParam(context)));
export const PUT = endpoint(SaveDrill, (actor, input, context) => saveDrill(actor, idParam(context), input));
