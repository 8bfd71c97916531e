import { setTemplateRemoved, templateStrips } from "../../../../services/week";
import { idParam, read } from "../../../_endpoint";

export const GET = read((actor, context) => templateStrips(actor, idParam(context)));
export const DELETE = read((actor, context) => setTemplateRemoved(actor, idParam(context), true));
export const PUT = read((actor, context) => setTemplateRemoved(actor, idParam(context), false));
