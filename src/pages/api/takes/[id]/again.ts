import { hearAgain } from "../../../../services/practice";
import { idParam, read } from "../../../_endpoint";

/** The bench tries once more to hear a take that it could not hear. */
export const POST = read((actor, context) => hearAgain(actor, idParam(context)));
