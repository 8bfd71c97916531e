import type { Stage } from "../../../../../core/music";
import { linePart } from "../../../../../services/shelf";
import { idParam, read, widthParam } from "../../../../_endpoint";

const STAGES: Stage[] = ["making-a-sound", "five-notes", "small-tunes", "widening"];

export const GET = read((actor, context) => {
  const asked = context.url.searchParams.get("stage");
  const stage = STAGES.find((each) => each === asked) ?? "small-tunes";
  return linePart(actor, idParam(context), context.params.instrument ?? "", stage, widthParam(context.url));
});
