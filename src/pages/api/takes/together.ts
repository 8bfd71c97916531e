import { AcceptTogether, acceptTogether, cleanWaiting } from "../../../services/listening";
import { endpoint, read } from "../../_endpoint";

/** The takes in which nothing was found; accepted together, or taken back. */
export const GET = read((actor) => cleanWaiting(actor));
export const PUT = endpoint(AcceptTogether, acceptTogether);
