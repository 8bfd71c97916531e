import { ownWords, SaveWords, saveWords } from "../../services/listening";
import { endpoint, read } from "../_endpoint";

/** A band's own words in place of the bench's. */
export const GET = read((actor) => ownWords(actor));
export const PUT = endpoint(SaveWords, saveWords);
