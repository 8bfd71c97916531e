import { LookAtRoster, lookAtRoster } from "../../../services/band";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(LookAtRoster, (actor, input) => lookAtRoster(actor, input), 600_000);
