import type { z } from "zod";
import { Membership, RecoveryCode, Session, User } from "../../data";
import { database } from "../../server/database";
import { hashSecret } from "../../server/hashing";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { needPassword, withinTries } from "./guard";
import type { PasswordOnly, Recover } from "./schema";
import { codeKey, drawCode, hashToken } from "./tokens";

/** So many codes are printed on one sheet. */
const CODES = 8;

/** New one-time codes for an account; those before them end. */
export async function newCodesFor(userId: string): Promise<string[]> {
  const codes = Array.from({ length: CODES }, () => drawCode(3));
  await database().transaction(async (transaction) => {
    await RecoveryCode.destroy({ where: { userId }, transaction });
    await RecoveryCode.bulkCreate(
      codes.map((code) => ({ userId, codeHash: hashToken(codeKey(code)), usedAt: null })),
      { transaction },
    );
  });
  return codes;
}

/** Makes new one-time codes; shown once, to be printed. The password of today is asked. */
export async function makeCodes(
  actor: Actor,
  { password }: z.output<typeof PasswordOnly>,
): Promise<{ codes: string[] }> {
  const who = director(actor);
  await needPassword(who, password);
  const codes = await newCodesFor(who.userId);
  await audit(who, "make-recovery-codes", who.userId);
  return { codes };
}

/** How many codes of a director are unused. */
export async function codesLeft(actor: Actor): Promise<number> {
  return RecoveryCode.count({ where: { userId: director(actor).userId, usedAt: null } });
}

/**
 * Opens an account whose password is lost, by a one-time code: a new password, and every sign-in of the account ends.
 * @throws ServiceError with one sentence whatever of the two is wrong
 */
export async function recover(input: z.output<typeof Recover>): Promise<void> {
  const user = await User.findOne({ where: { email: input.email } });
  await withinTries(`recover:${user?.id ?? input.email}`, "recovery", user?.id ?? null);
  const codeHash = hashToken(codeKey(input.code));
  const passwordHash = await hashSecret(input.newPassword);
  const wrong = new ServiceError(
    "bad-input",
    "This e-mail address and code do not fit together, or the code was used.",
  );
  if (!user) throw wrong;
  await database().transaction(async (transaction) => {
    const [used] = await RecoveryCode.update(
      { usedAt: new Date() },
      { where: { userId: user.id, codeHash, usedAt: null }, transaction },
    );
    if (used === 0) throw wrong;
    await user.update({ passwordHash }, { transaction });
    await Session.destroy({ where: { userId: user.id }, transaction });
    const membership = found(
      await Membership.findOne({ where: { userId: user.id }, transaction }),
      "account",
    );
    await audit(
      { kind: "director", userId: user.id, bandId: membership.bandId, name: user.name },
      "recover-account",
      user.id,
      transaction,
    );
  });
}
