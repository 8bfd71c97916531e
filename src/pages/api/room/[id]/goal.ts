import { SetGoal, setGoal } from "../../../../services/room";
import { endpoint, idParam } from "../../../_endpoint";

/** What the lesson is about, in one sentence. */
export const PUT = endpoint(SetGoal, (actor, { goal }, context) => setGoal(actor, idParam(context), goal));
