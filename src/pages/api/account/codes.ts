import { makeCodes, PasswordOnly } from "../../../services/accounts";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(PasswordOnly, (actor, input) => makeCodes(actor, input));
