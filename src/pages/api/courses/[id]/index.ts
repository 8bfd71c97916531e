import { courseDetail } from "../../../../services/counting";
import { idParam, read } from "../../../_endpoint";

export const GET = read((actor, context) => courseDetail(actor, idParam(context)));
