import { linePart } from "../../../../../services/shelf";
import { idParam, read, stageParam, widthParam } from "../../../../_endpoint";

export const GET = read((actor, context) =>
  linePart(
    actor,
    idParam(context),
    context.params.instrument ?? "",
    stageParam(context.url),
    widthParam(context.url),
    context.url.searchParams.get("part"),
  ),
);
