import { countingSystems, SaveSystem, saveSystem } from "../../../services/counting";
import { endpoint, read } from "../../_endpoint";

export const GET = read((actor) => countingSystems(actor));
export const POST = endpoint(SaveSystem, (actor, input) => saveSystem(actor, input));
