import { ImportRoster, importRoster, rosterFile } from "../../../services/band";
import { download, endpoint, read } from "../../_endpoint";

export const GET = read(async (actor) => {
  const { name, bytes } = await rosterFile(actor);
  return download(name, bytes, "text/csv; charset=utf-8");
});
export const POST = endpoint(ImportRoster, (actor, input) => importRoster(actor, input), 600_000);
