import { termToDraft } from "../../../services/week";
import { read } from "../../_endpoint";

export const GET = read((actor) => termToDraft(actor));
