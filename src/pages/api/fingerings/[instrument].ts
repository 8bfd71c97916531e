import { fingeringChart, setFingerings } from "../../../services/parts";
import { SetFingerings } from "../../../services/shelf/schema";
import { endpoint, instrumentParam, plainParam, read } from "../../_endpoint";

export const GET = read((actor, context) =>
  fingeringChart(actor, instrumentParam(context), plainParam(context.url.searchParams.get("build"))),
);
export const PUT = endpoint(SetFingerings, (actor, input, context) =>
  setFingerings(actor, instrumentParam(context), input),
);
