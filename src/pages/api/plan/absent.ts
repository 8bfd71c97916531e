import { TickAbsent, tickAbsent } from "../../../services/week";
import { endpoint } from "../../_endpoint";

export const PUT = endpoint(TickAbsent, (actor, input) => tickAbsent(actor, input));
