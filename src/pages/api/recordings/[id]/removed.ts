import { setRemoved } from "../../../../services/shelf";
import { idParam, read } from "../../../_endpoint";

export const PUT = read((actor, context) => setRemoved(actor, idParam(context), true));
export const DELETE = read((actor, context) => setRemoved(actor, idParam(context), false));
