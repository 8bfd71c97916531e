import { undoChange } from "../../../services/band";
import { idParam, read } from "../../_endpoint";

export const DELETE = read((actor, context) => undoChange(actor, idParam(context)));
