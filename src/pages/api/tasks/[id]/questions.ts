import { AskQuestion, askQuestion } from "../../../../services/practice";
import { endpoint, idParam } from "../../../_endpoint";

export const POST = endpoint(AskQuestion, (actor, input, context) =>
  askQuestion(actor, idParam(context), input),
);
