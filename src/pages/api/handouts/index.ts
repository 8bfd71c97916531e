import { tidyText } from "../../../core/text";
import { director } from "../../../services/actor";
import { addHandout, LARGEST_LISTENING, LARGEST_SHEET } from "../../../services/pieces";
import { bodyBytes, read } from "../../_endpoint";

/** The file travels as the body, its kind and title in the address. */
export const POST = read(async (actor, { url, request }) => {
  director(actor);
  const title = tidyText(url.searchParams.get("title") ?? "").slice(0, 160);
  const kind = url.searchParams.get("kind") === "listening" ? "listening" : "worksheet";
  const largest = kind === "listening" ? LARGEST_LISTENING : LARGEST_SHEET;
  return addHandout(actor, kind, title, await bodyBytes(request, largest));
});
