import { signOut } from "../../services/accounts";
import { read } from "../_endpoint";
import { dropSession, SESSION_COOKIE } from "../_session";

export const POST = read(async (_actor, { cookies }) => {
  await signOut(cookies.get(SESSION_COOKIE)?.value);
  dropSession(cookies);
});
