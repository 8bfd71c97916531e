import { Assign, assign } from "../../../services/giving";
import { weekView } from "../../../services/week";
import { endpoint, read } from "../../_endpoint";

export const GET = read((actor) => weekView(actor));
export const POST = endpoint(Assign, (actor, input) => assign(actor, input));
