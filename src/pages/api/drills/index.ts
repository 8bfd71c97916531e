import { listDrills, MakeDrill, makeDrill } from "../../../services/counting";
import { endpoint, read } from "../../_endpoint";

export const GET = read(async (actor) => ({ drills: await listDrills(actor) }));
export const POST = endpoint(MakeDrill, (actor, input) => makeDrill(actor, input));
