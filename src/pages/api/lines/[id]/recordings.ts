import { tidyText } from "../../../../core/text";
import { director } from "../../../../services/actor";
import { attachRecording, LARGEST_RECORDING, recordingsOf } from "../../../../services/shelf";
import { bodyBytes, idParam, read } from "../../../_endpoint";

export const GET = read(async (actor, context) => ({
  recordings: await recordingsOf(actor, idParam(context)),
}));

/** The sound travels as the body, its name in the address. */
export const POST = read(async (actor, context) => {
  director(actor);
  const name = tidyText(context.url.searchParams.get("name") ?? "").slice(0, 160);
  return attachRecording(actor, idParam(context), name, await bodyBytes(context.request, LARGEST_RECORDING));
});
