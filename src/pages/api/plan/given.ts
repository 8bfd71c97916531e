import { GiveWeek, giveWeek, takeWeekBack } from "../../../services/week";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(GiveWeek, (actor, input) => giveWeek(actor, input));
export const DELETE = endpoint(GiveWeek, (actor, input) => takeWeekBack(actor, input));
