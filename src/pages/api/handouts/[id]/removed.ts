import { setHandoutRemoved } from "../../../../services/pieces";
import { idParam, read } from "../../../_endpoint";

export const PUT = read((actor, context) => setHandoutRemoved(actor, idParam(context), true));
export const DELETE = read((actor, context) => setHandoutRemoved(actor, idParam(context), false));
