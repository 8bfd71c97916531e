import { claim } from "../../../../services/listening";
import { idParam, read } from "../../../_endpoint";

export const PUT = read((actor, context) => claim(actor, idParam(context)));
