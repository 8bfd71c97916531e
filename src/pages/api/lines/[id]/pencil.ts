import { pencilOf, WritePencil, writePencil } from "../../../../services/shelf";
import { endpoint, idParam, plainParam, read } from "../../../_endpoint";

export const GET = read(async (actor, context) => ({
  marks: await pencilOf(actor, idParam(context), plainParam(context.url.searchParams.get("instrument"))),
}));
export const POST = endpoint(WritePencil, (actor, input, context) =>
  writePencil(actor, idParam(context), input),
);
