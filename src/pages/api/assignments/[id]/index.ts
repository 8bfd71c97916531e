import { ChangeAssignment, changeAssignment } from "../../../../services/giving";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(ChangeAssignment, (actor, input, context) =>
  changeAssignment(actor, idParam(context), input),
);
