import { taskDetail } from "../../../../services/practice";
import { idParam, read, widthParam } from "../../../_endpoint";

export const GET = read((actor, context) => taskDetail(actor, idParam(context), widthParam(context.url)));
