import { routineVersion } from "../../../../../services/warmups";
import { idParam, read } from "../../../../_endpoint";

export const GET = read((actor, context) =>
  routineVersion(actor, idParam(context), Number(context.params.number) || 0),
);
