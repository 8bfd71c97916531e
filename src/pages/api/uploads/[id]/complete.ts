import { completeUpload } from "../../../../services/practice";
import { idParam, read } from "../../../_endpoint";

export const POST = read((actor, context) => completeUpload(actor, idParam(context)));
