import { KeepPractice, keepPractice, practiceView } from "../../services/practice";
import { endpoint, read } from "../_endpoint";

export const GET = read((actor) => practiceView(actor));
export const POST = endpoint(KeepPractice, (actor, input) => keepPractice(actor, input));
