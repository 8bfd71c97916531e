import { setTaught } from "../../../services/knowledge";
import { idParam, read } from "../../_endpoint";

/** Puts a lesson in force again after it was taken back. */
export const PUT = read(async (actor, context) => setTaught(actor, idParam(context), true));
export const DELETE = read(async (actor, context) => setTaught(actor, idParam(context), false));
