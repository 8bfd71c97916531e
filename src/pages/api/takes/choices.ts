import { queueChoices } from "../../../services/listening";
import { read } from "../../_endpoint";

/** What the queue can be narrowed to. */
export const GET = read((actor) => queueChoices(actor));
