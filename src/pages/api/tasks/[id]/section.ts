import { sectionSays } from "../../../../services/practice";
import { answer, idParam, read } from "../../../_endpoint";

/** What one's section often does with the line; null where nothing is shared. */
export const GET = read(async (actor, context) =>
  answer({ says: await sectionSays(actor, idParam(context)) }),
);
