import { AcceptInvitation, acceptInvitation, openDirector } from "../../../services/accounts";
import { endpoint } from "../../_endpoint";
import { keepSession } from "../../_session";

export const POST = endpoint(AcceptInvitation, async (_actor, input, { cookies }) => {
  keepSession(cookies, await openDirector(await acceptInvitation(input)));
  return { next: "/week" };
});
