import { TeachConcert, teachConcert } from "../../../services/knowledge";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(TeachConcert, (actor, input) => teachConcert(actor, input));
