import { LookAtCalendar, lookAtHolidays } from "../../../services/week";
import { endpoint } from "../../_endpoint";

/** A calendar of a megabyte, written as JSON. */
const LARGEST = 1_500_000;

export const POST = endpoint(LookAtCalendar, (actor, input) => lookAtHolidays(actor, input), LARGEST);
