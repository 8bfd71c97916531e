import { DirectorSignIn, signInDirector, signOut } from "../../../services/accounts";
import { endpoint } from "../../_endpoint";
import { deviceOf, keepSession, SESSION_COOKIE } from "../../_session";

export const POST = endpoint(DirectorSignIn, async (_actor, input, { cookies }) => {
  const session = await signInDirector(input, deviceOf(cookies));
  await signOut(cookies.get(SESSION_COOKIE)?.value);
  keepSession(cookies, session);
  return { next: "/week" };
});
