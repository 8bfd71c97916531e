import { releaseReviews } from "../../../services/listening";
import { read } from "../../_endpoint";

/** Lets the players see what was held back. */
export const POST = read((actor) => releaseReviews(actor));
