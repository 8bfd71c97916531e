import { TurnDown, turnDown } from "../../../services/week";
import { endpoint } from "../../_endpoint";

export const PUT = endpoint(TurnDown, (actor, input) => turnDown(actor, input));
