import { takeDetail } from "../../../../services/listening";
import { idParam, read } from "../../../_endpoint";

export const GET = read((actor, context) => takeDetail(actor, idParam(context)));
