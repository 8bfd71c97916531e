import { AskQueue, listenQueue } from "../../../services/listening";
import { check, read } from "../../_endpoint";

/** A page of what waits; order and what it is narrowed to stand in the address. */
export const GET = read((actor, { url }) =>
  listenQueue(actor, check(AskQueue, Object.fromEntries(url.searchParams))),
);
