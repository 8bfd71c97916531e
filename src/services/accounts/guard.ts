import { countTry, SignInAttempt, User } from "../../data";
import { secretFits } from "../../server/hashing";
import { log } from "../../server/log";
import { LineFull } from "../../server/turns";
import { type Director, found, ServiceError } from "../actor";
import { hashToken } from "./tokens";

/** Tries are counted in windows of so many seconds. */
export const WINDOW_SEC = 15 * 60;
/** Wrong tries in a window before what was tried rests. */
const TRIES = 8;
/** Codes of a lesson are short, and typed by everybody: so many wrong ones in all before none is looked up for a while. */
export const CODE_TRIES = 600;

/** Counts a try before it is made: tries at the same moment are all counted. @throws ServiceError beyond the limit */
export async function withinTries(
  subject: string,
  kind: string,
  account: string | null,
  most = TRIES,
): Promise<void> {
  const tries = await countTry(hashToken(subject), WINDOW_SEC);
  if (tries <= most) return;
  if (tries === most + 1) log().warn({ kind, account }, "sign-in rests after too many wrong tries");
  throw new ServiceError(
    "too-many-tries",
    "There were too many wrong tries. Wait fifteen minutes, then try again.",
  );
}

export async function forgive(subject: string): Promise<void> {
  await SignInAttempt.destroy({ where: { subject: hashToken(subject) } });
}

export async function fits(stored: string | null, secret: string, known: boolean): Promise<boolean> {
  try {
    return await secretFits(stored, secret, known);
  } catch (error) {
    if (error instanceof LineFull)
      throw new ServiceError(
        "busy",
        "Many people are signing in at this moment. Try again in a few seconds.",
      );
    throw error;
  }
}

/** The password of today opens what changes an account. @throws ServiceError when it is wrong, or tried too often */
export async function needPassword(who: Director, password: string): Promise<User> {
  const user = found(await User.findByPk(who.userId), "account");
  const subject = `account:${who.userId}`;
  await withinTries(subject, "account", who.userId);
  if (!(await fits(user.passwordHash, password, true)))
    throw new ServiceError("bad-input", "This is not the password you have now.");
  await forgive(subject);
  return user;
}
