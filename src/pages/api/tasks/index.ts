import { ChooseLine, chooseLine } from "../../../services/practice";
import { endpoint } from "../../_endpoint";

/** The next line on one's own stand, by own choice. */
export const POST = endpoint(ChooseLine, chooseLine);
