import { SetClash, setClash } from "../../../services/week";
import { endpoint } from "../../_endpoint";

export const PUT = endpoint(SetClash, (actor, input) => setClash(actor, input));
