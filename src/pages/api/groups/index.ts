import { AddGroup, addGroup } from "../../../services/band";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(AddGroup, (actor, input) => addGroup(actor, input));
