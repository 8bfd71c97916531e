import { shareCalendar } from "../../../services/week";
import { read } from "../../_endpoint";

export const PUT = read((actor) => shareCalendar(actor, true));
export const DELETE = read((actor) => shareCalendar(actor, false));
