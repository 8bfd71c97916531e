import { SavePlan, savePlan, weekStrips } from "../../../services/week";
import { endpoint, read } from "../../_endpoint";
import { askedWeek } from "../../week/_asked";

/** Strips of a whole term fit in. */
const LARGEST = 600_000;

export const PUT = endpoint(SavePlan, (actor, input) => savePlan(actor, input), LARGEST);
export const GET = read((actor, { url }) => weekStrips(actor, askedWeek(url).of));
