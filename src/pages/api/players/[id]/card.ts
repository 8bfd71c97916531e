import { newCard } from "../../../../services/band";
import { idParam, read } from "../../../_endpoint";

export const POST = read((actor, context) => newCard(actor, idParam(context)));
