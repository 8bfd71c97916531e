import { KeepTemplate, keepTemplate } from "../../../../services/week";
import { endpoint } from "../../../_endpoint";

export const POST = endpoint(KeepTemplate, (actor, input) => keepTemplate(actor, input));
