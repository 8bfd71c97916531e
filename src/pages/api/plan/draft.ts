import { AskDraft, draftView } from "../../../services/week";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(AskDraft, (actor, input) => draftView(actor, input));
