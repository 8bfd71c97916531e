import { BringIn, bringIn, otherLessons } from "../../../../services/room";
import { endpoint, idParam, read } from "../../../_endpoint";

/** Lessons whose blocks can be done in this one. */
export const GET = read((actor, context) => otherLessons(actor, idParam(context)));

/** Does some of them in it. */
export const PUT = endpoint(BringIn, (actor, blocks, context) => bringIn(actor, idParam(context), blocks));
