import { sharedCalendar } from "../../services/week";
import { read } from "../_endpoint";

/** For other calendars: whoever has the address may read it. */
export const GET = read(
  async (_actor, { params }) =>
    new Response(await sharedCalendar(params.address ?? ""), {
      headers: { "Content-Type": "text/calendar; charset=utf-8", "Cache-Control": "private, no-store" },
    }),
);
