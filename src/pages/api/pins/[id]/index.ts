import { removePin } from "../../../../services/listening";
import { idParam, read } from "../../../_endpoint";

export const DELETE = read((actor, context) => removePin(actor, idParam(context)));
