import { director } from "../../../services/actor";
import { ImportLine, importLine, LARGEST_SCORE, shelfView } from "../../../services/shelf";
import { bodyBytes, check, read } from "../../_endpoint";

export const GET = read((actor) => shelfView(actor));

/** The file travels as the body, what is said of it in the address. */
export const POST = read(async (actor, { request, url }) => {
  director(actor);
  const about = Object.fromEntries([...url.searchParams].filter(([, value]) => value !== ""));
  return importLine(actor, check(ImportLine, about), await bodyBytes(request, LARGEST_SCORE));
});
