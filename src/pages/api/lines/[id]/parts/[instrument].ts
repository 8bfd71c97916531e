import { linePart } from "../../../../../services/shelf";
import { idParam, plainParam, read, stageParam, widthParam } from "../../../../_endpoint";

export const GET = read((actor, context) =>
  linePart(
    actor,
    idParam(context),
    context.params.instrument ?? "",
    stageParam(context.url),
    widthParam(context.url),
    plainParam(context.url.searchParams.get("part")),
  ),
);
