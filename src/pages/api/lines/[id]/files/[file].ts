import { ServiceError } from "../../../../../services/actor";
import { lineFile } from "../../../../../services/shelf";
import { download, idParam, plainParam, read, stageParam } from "../../../../_endpoint";

const TYPES = { musicxml: "application/vnd.recordare.musicxml+xml", mid: "audio/midi" };

/** "clarinet.musicxml" or "concert.mid" of a line. */
export const GET = read(async (actor, context) => {
  const [, instrument, kind] = /^([a-z-]+)\.(musicxml|mid)$/.exec(context.params.file ?? "") ?? [];
  if (!instrument || !kind) throw new ServiceError("not-found", "There is nothing at this address.");
  const { name, bytes } = await lineFile(
    actor,
    idParam(context),
    instrument,
    kind as keyof typeof TYPES,
    stageParam(context.url),
    plainParam(context.url.searchParams.get("part")),
  );
  return download(name, bytes, TYPES[kind as keyof typeof TYPES]);
});
