import { InviteDirector, inviteDirector } from "../../../services/accounts";
import { endpoint } from "../../_endpoint";
import { addressOf } from "../../_session";

export const POST = endpoint(InviteDirector, (actor, input, { request }) =>
  inviteDirector(actor, input, addressOf(request)),
);
