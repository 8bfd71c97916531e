import { bringEveryNote } from "../../../../services/shelf";
import { idParam, read } from "../../../_endpoint";

export const POST = read((actor, context) => bringEveryNote(actor, idParam(context)));
