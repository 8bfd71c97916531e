import { MakeUpTest, makeUpTest } from "../../../../services/giving";
import { endpoint, idParam } from "../../../_endpoint";

export const POST = endpoint(MakeUpTest, (actor, input, context) =>
  makeUpTest(actor, idParam(context), input),
);
