import { mediaStore } from "../../../../server/media-store";
import { takeSound } from "../../../../services/listening";
import { idParam, read } from "../../../_endpoint";

/** The recording, whole or by range; private to its player and the director. */
export const GET = read(async (actor, context) => {
  const { storeKey, contentType, bytes } = await takeSound(actor, idParam(context));
  const headers = {
    "Content-Type": contentType,
    "Accept-Ranges": "bytes",
    "Cache-Control": "private, max-age=600",
    "Content-Disposition": "inline",
  };
  const range = /^bytes=(\d*)-(\d*)$/.exec(context.request.headers.get("range") ?? "");
  if (!range || (range[1] === "" && range[2] === "")) {
    return new Response(mediaStore().stream(storeKey, 0, bytes - 1), {
      headers: { ...headers, "Content-Length": String(bytes) },
    });
  }
  const from = range[1] === "" ? Math.max(0, bytes - Number(range[2])) : Number(range[1]);
  const to = range[1] === "" || range[2] === "" ? bytes - 1 : Math.min(bytes - 1, Number(range[2]));
  if (from > to)
    return new Response(null, { status: 416, headers: { ...headers, "Content-Range": `bytes */${bytes}` } });
  return new Response(mediaStore().stream(storeKey, from, to), {
    status: 206,
    headers: {
      ...headers,
      "Content-Range": `bytes ${from}-${to}/${bytes}`,
      "Content-Length": String(to - from + 1),
    },
  });
});
