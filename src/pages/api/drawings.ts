import { director } from "../../services/actor";
import { drawDraft, LARGEST_SCORE } from "../../services/shelf";
import { bodyBytes, read } from "../_endpoint";

/** MusicXML in, picture out; nothing is kept. */
export const POST = read(async (actor, { request }) => {
  director(actor);
  return drawDraft(actor, await bodyBytes(request, LARGEST_SCORE));
});
