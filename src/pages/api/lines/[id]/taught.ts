import { TeachLine, teachingsOfLine, teachLine } from "../../../../services/knowledge";
import { endpoint, idParam, read } from "../../../_endpoint";

export const GET = read(async (actor, context) => ({
  taught: await teachingsOfLine(actor, idParam(context)),
}));
export const POST = endpoint(TeachLine, (actor, input, context) => teachLine(actor, idParam(context), input));
