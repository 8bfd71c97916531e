import { createRoutine, listRoutines, NewRoutine } from "../../../services/warmups";
import { endpoint, read } from "../../_endpoint";

export const GET = read(async (actor) => ({ routines: await listRoutines(actor) }));
export const POST = endpoint(NewRoutine, (actor, input) => createRoutine(actor, input));
