import { removeDirector } from "../../../services/accounts";
import { idParam, read } from "../../_endpoint";

export const DELETE = read((actor, context) => removeDirector(actor, idParam(context)));
