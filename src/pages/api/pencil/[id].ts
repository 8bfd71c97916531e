import { erasePencil } from "../../../services/shelf";
import { idParam, read } from "../../_endpoint";

export const DELETE = read((actor, context) => erasePencil(actor, idParam(context)));
