import { director } from "../../../../../services/actor";
import { LARGEST_SCORE, removePart, SavePart, savePart } from "../../../../../services/shelf";
import { bodyBytes, check, idParam, plainParam, read } from "../../../../_endpoint";

/** The notes of a part travel as MusicXML in the body; "new" adds a part to the line. */
export const PUT = read(async (actor, context) => {
  director(actor);
  const about = check(SavePart, Object.fromEntries(context.url.searchParams));
  const bytes = await bodyBytes(context.request, LARGEST_SCORE);
  return savePart(actor, idParam(context), plainParam(context.params.part) ?? "", about, bytes);
});

export const DELETE = read((actor, context) =>
  removePart(actor, idParam(context), plainParam(context.params.part) ?? ""),
);
