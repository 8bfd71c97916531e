import { waitingQuestions } from "../../../services/practice";
import { read } from "../../_endpoint";

export const GET = read((actor) => waitingQuestions(actor));
