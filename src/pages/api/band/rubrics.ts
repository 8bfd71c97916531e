import { bandRubrics } from "../../../services/settings";
import { read } from "../../_endpoint";

/** The band's ways to mark. */
export const GET = read(async (actor) => ({ rubrics: await bandRubrics(actor) }));
