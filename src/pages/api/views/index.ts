import { SaveView, savedViews, saveView } from "../../../services/shelf";
import { endpoint, read } from "../../_endpoint";

export const GET = read(async (actor) => ({ views: await savedViews(actor) }));
export const POST = endpoint(SaveView, (actor, input) => saveView(actor, input));
