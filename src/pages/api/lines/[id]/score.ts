import { lineScore } from "../../../../services/shelf";
import { idParam, plainParam, read, stageParam } from "../../../_endpoint";

/** The notes of the whole line, or of one instrument's part, as the score model. */
export const GET = read((actor, context) =>
  lineScore(
    actor,
    idParam(context),
    context.url.searchParams.get("instrument"),
    stageParam(context.url),
    plainParam(context.url.searchParams.get("part")),
  ),
);
