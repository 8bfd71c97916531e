import { removeView } from "../../../services/shelf";
import { idParam, read } from "../../_endpoint";

export const DELETE = read((actor, context) => removeView(actor, idParam(context)));
