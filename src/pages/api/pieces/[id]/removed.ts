import { setPieceRemoved } from "../../../../services/pieces";
import { idParam, read } from "../../../_endpoint";

export const PUT = read((actor, context) => setPieceRemoved(actor, idParam(context), true));
export const DELETE = read((actor, context) => setPieceRemoved(actor, idParam(context), false));
