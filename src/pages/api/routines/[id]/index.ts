import { routineDetail, SaveRoutine, saveRoutine } from "../../../../services/warmups";
import { endpoint, idParam, read } from "../../../_endpoint";

export const GET = read((actor, context) => routineDetail(actor, idParam(context)));
export const PUT = endpoint(SaveRoutine, (actor, input, context) =>
  saveRoutine(actor, idParam(context), input),
);
