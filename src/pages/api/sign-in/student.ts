import { StudentSignIn, signInStudent, signOut } from "../../../services/accounts";
import { endpoint } from "../../_endpoint";
import { deviceOf, keepSession, SESSION_COOKIE } from "../../_session";

export const POST = endpoint(StudentSignIn, async (_actor, input, { cookies }) => {
  const session = await signInStudent(input, deviceOf(cookies));
  await signOut(cookies.get(SESSION_COOKIE)?.value);
  keepSession(cookies, session);
  return { next: "/stand" };
});
