import { roomStream } from "../../../../services/room";
import { idParam, read } from "../../../_endpoint";

const number = (text: string | null) => (/^\d{1,9}$/.test(text ?? "") ? Number(text) : 0);

/** What happens in a lesson, as it happens. */
export const GET = read(async (actor, context) => {
  const { searchParams } = context.url;
  // A browser that lost the stream says itself what it knows.
  const told = number(context.request.headers.get("last-event-id") ?? searchParams.get("told"));
  const stream = await roomStream(actor, idParam(context), {
    told,
    stateVersion: number(searchParams.get("state")),
  });
  return new Response(stream, {
    headers: {
      "Content-Type": "text/event-stream",
      "Cache-Control": "no-store",
      "X-Accel-Buffering": "no",
    },
  });
});
