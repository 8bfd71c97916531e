import { AskHeard, heardQueue } from "../../../services/listening";
import { check, read } from "../../_endpoint";

/** Takes on which a word was said, the newest first. */
export const GET = read(async (actor, { url }) => ({
  items: await heardQueue(actor, check(AskHeard, Object.fromEntries(url.searchParams)).after),
}));
