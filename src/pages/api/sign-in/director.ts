import { DirectorSignIn, signInDirector, signOut } from "../../../services/accounts";
import { endpoint } from "../../_endpoint";
import { keepSession, SESSION_COOKIE } from "../../_session";

export const POST = endpoint(DirectorSignIn, async (_actor, input, { cookies }) => {
  const session = await signInDirector(input);
  await signOut(cookies.get(SESSION_COOKIE)?.value);
  keepSession(cookies, session);
  return { next: "/week" };
});
