import { undoDraw } from "../../../services/band";
import { idParam, read } from "../../_endpoint";

export const DELETE = read((actor, context) => undoDraw(actor, idParam(context)));
