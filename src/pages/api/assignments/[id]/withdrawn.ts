import { setWithdrawn } from "../../../../services/giving";
import { idParam, read } from "../../../_endpoint";

export const PUT = read((actor, context) => setWithdrawn(actor, idParam(context), true));
export const DELETE = read((actor, context) => setWithdrawn(actor, idParam(context), false));
