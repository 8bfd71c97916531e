import { player } from "../../../../services/actor";
import { CHUNK_BYTES, putChunk } from "../../../../services/practice";
import { bodyBytes, idParam, read } from "../../../_endpoint";

export const PUT = read(async (actor, context) => {
  player(actor);
  const offset = Number(context.url.searchParams.get("offset"));
  return putChunk(actor, idParam(context), offset, await bodyBytes(context.request, CHUNK_BYTES));
});
