import { deleteLine, describeLine, LineAbout, lineDetail, lineReadiness } from "../../../../services/shelf";
import { endpoint, idParam, read } from "../../../_endpoint";

export const GET = read(async (actor, context) => ({
  line: await lineDetail(actor, idParam(context)),
  readiness: await lineReadiness(actor, idParam(context)),
}));
export const PUT = endpoint(LineAbout, (actor, input, context) =>
  describeLine(actor, idParam(context), input),
);
/** For an archived line that was never given; anything else is archived instead. */
export const DELETE = read((actor, context) => deleteLine(actor, idParam(context)));
