import { AddAddress, addAddress } from "../../../services/pieces";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(AddAddress, (actor, input) => addAddress(actor, input));
