import { SaveCalendar, saveCalendar } from "../../../services/week";
import { endpoint } from "../../_endpoint";

/** A year with all its single changes fits in. */
const LARGEST = 300_000;

export const PUT = endpoint(SaveCalendar, (actor, input) => saveCalendar(actor, input), LARGEST);
