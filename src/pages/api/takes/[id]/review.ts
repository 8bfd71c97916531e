import { ReviewTake, reviewTake, takeBackReview } from "../../../../services/listening";
import { endpoint, idParam, read } from "../../../_endpoint";

export const PUT = endpoint(ReviewTake, (actor, input, context) =>
  reviewTake(actor, idParam(context), input),
);
export const DELETE = read((actor, context) => takeBackReview(actor, idParam(context)));
