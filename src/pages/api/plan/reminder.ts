import { Remind, remind } from "../../../services/week";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(Remind, (actor, input) => remind(actor, input));
