import { concertView, SaveProgramme, saveProgramme } from "../../../services/week";
import { endpoint, idParam, read } from "../../_endpoint";

export const GET = read((actor, context) => concertView(actor, idParam(context)));
export const PUT = endpoint(SaveProgramme, (actor, input, context) =>
  saveProgramme(actor, idParam(context), input),
);
