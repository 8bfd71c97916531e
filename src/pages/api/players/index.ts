import { AddPlayer, addPlayer, bandOverview, EditPlayers, editPlayers } from "../../../services/band";
import { endpoint, read } from "../../_endpoint";

export const GET = read((actor) => bandOverview(actor));
export const POST = endpoint(AddPlayer, (actor, input) => addPlayer(actor, input));
export const PUT = endpoint(EditPlayers, (actor, input) => editPlayers(actor, input), 400_000);
