import { drillPage } from "../../../../services/counting";
import { idParam, read, widthParam } from "../../../_endpoint";

export const GET = read((actor, context) =>
  drillPage(actor, idParam(context), widthParam(context.url), context.url.searchParams.get("system")),
);
