import { DrawCards, drawCards } from "../../../services/band";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(DrawCards, async (actor, input) => ({ cards: await drawCards(actor, input) }));
