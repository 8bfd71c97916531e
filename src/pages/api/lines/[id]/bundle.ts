import { lineBundle } from "../../../../services/shelf";
import { download, idParam, read } from "../../../_endpoint";

/** All parts of a line in one file. */
export const GET = read(async (actor, context) => {
  const { name, bytes } = await lineBundle(actor, idParam(context));
  return download(name, bytes, "application/zip");
});
