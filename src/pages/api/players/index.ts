import { AddPlayer, addPlayer, bandOverview } from "../../../services/band";
import { endpoint, read } from "../../_endpoint";

export const GET = read((actor) => bandOverview(actor));
export const POST = endpoint(AddPlayer, (actor, input) => addPlayer(actor, input));
