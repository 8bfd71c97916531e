import { MoveTake, moveTake, otherTasks } from "../../../../services/listening";
import { endpoint, idParam, read } from "../../../_endpoint";

/** The player's other tasks, and the move of a take to one of them. */
export const GET = read(async (actor, context) => ({ tasks: await otherTasks(actor, idParam(context)) }));
export const PUT = endpoint(MoveTake, (actor, { taskId }, context) =>
  moveTake(actor, idParam(context), taskId),
);
