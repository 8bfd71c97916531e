import { BeginUpload, beginUpload } from "../../../services/practice";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(BeginUpload, (actor, input) => beginUpload(actor, input));
