import { TeachThings, teachThings } from "../../../services/knowledge";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(TeachThings, (actor, input) => teachThings(actor, input));
