import { SavePlan, savePlan } from "../../../services/week";
import { endpoint } from "../../_endpoint";

/** Strips of a whole term fit in. */
const LARGEST = 600_000;

export const PUT = endpoint(SavePlan, (actor, input) => savePlan(actor, input), LARGEST);
