import { ChooseInstrument, chooseInstrument } from "../../../../services/giving";
import { endpoint, idParam } from "../../../_endpoint";

export const PUT = endpoint(ChooseInstrument, (actor, { instrumentId }, context) =>
  chooseInstrument(actor, idParam(context), instrumentId),
);
