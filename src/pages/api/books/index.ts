import { bringBook } from "../../../services/shelf";
import { read } from "../../_endpoint";

/** Puts the book that comes with the bench on the shelf. */
export const POST = read((actor) => bringBook(actor));
