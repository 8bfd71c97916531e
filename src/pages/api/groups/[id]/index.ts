import { archiveGroup, ChangeGroup, changeGroup } from "../../../../services/band";
import { endpoint, idParam, read } from "../../../_endpoint";

export const PUT = endpoint(ChangeGroup, (actor, input, context) =>
  changeGroup(actor, idParam(context), input),
);
export const DELETE = read((actor, context) => archiveGroup(actor, idParam(context)));
