import { director } from "../../../services/actor";
import { LARGEST_SCORE, LookAtFile, lookAtFile } from "../../../services/shelf";
import { bodyBytes, check, read } from "../../_endpoint";

/** The file travels as the body; nothing is stored. */
export const POST = read(async (actor, { request, url }) => {
  director(actor);
  return lookAtFile(
    actor,
    check(LookAtFile, { fileName: url.searchParams.get("fileName") ?? "" }),
    await bodyBytes(request, LARGEST_SCORE),
  );
});
