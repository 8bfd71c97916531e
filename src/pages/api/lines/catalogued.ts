import { CatalogueLine, catalogueLine } from "../../../services/shelf";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(CatalogueLine, (actor, input) => catalogueLine(actor, input));
