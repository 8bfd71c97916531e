import { fingeringChart, SetFingerings, setFingerings } from "../../../services/shelf";
import { endpoint, read } from "../../_endpoint";

export const GET = read((actor, context) =>
  fingeringChart(actor, context.params.instrument ?? "", context.url.searchParams.get("build")),
);
export const PUT = endpoint(SetFingerings, (actor, input, context) =>
  setFingerings(actor, context.params.instrument ?? "", input),
);
