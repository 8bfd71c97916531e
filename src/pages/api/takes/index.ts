import { listenQueue } from "../../../services/listening";
import { read } from "../../_endpoint";

export const GET = read(async (actor) => ({ queue: await listenQueue(actor) }));
