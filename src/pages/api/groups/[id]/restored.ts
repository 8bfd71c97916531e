import { restoreGroup } from "../../../../services/band";
import { idParam, read } from "../../../_endpoint";

export const PUT = read((actor, context) => restoreGroup(actor, idParam(context)));
