import { SavePiece, savePiece } from "../../../../services/pieces";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(SavePiece, (actor, input, context) => savePiece(actor, idParam(context), input));
