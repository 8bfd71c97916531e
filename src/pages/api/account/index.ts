import { ChangeAccount, changeAccount } from "../../../services/accounts";
import { endpoint } from "../../_endpoint";
import { keepSession } from "../../_session";

export const PUT = endpoint(ChangeAccount, async (actor, input, { cookies }) => {
  const session = await changeAccount(actor, input);
  if (session) keepSession(cookies, session);
  return { changed: true };
});
