import { AddDaysOff, addDaysOff } from "../../../services/week";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(AddDaysOff, (actor, input) => addDaysOff(actor, input));
