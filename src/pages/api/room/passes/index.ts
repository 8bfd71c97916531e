import { MakePass, makePass } from "../../../../services/room";
import { endpoint } from "../../../_endpoint";

/** Leave for somebody to lead lessons on some days. */
export const POST = endpoint(MakePass, (actor, input) => makePass(actor, input));
