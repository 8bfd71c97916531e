import { AnswerQuestion, answerQuestion } from "../../../../services/practice";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(AnswerQuestion, (actor, input, context) =>
  answerQuestion(actor, idParam(context), input),
);
