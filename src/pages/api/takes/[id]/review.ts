import { ReviewTake, reviewTake } from "../../../../services/listening";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(ReviewTake, (actor, input, context) =>
  reviewTake(actor, idParam(context), input),
);
