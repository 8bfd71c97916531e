import { shutPass } from "../../../../services/room";
import { idParam, read } from "../../../_endpoint";

/** Ends somebody's leave. */
export const DELETE = read((actor, context) => shutPass(actor, idParam(context)));
