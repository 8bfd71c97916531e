import { createHash, randomBytes, randomInt } from "node:crypto";
import { UniqueConstraintError } from "sequelize";
import type { z } from "zod";
import { nameKey } from "../../core/text";
import {
  Band,
  countTry,
  KnownDevice,
  Membership,
  ownerOfSession,
  Player,
  Session,
  SignInAttempt,
  sweepSignIns,
  User,
} from "../../data";
import { database } from "../../server/database";
import { hashSecret, secretFits } from "../../server/hashing";
import { log } from "../../server/log";
import { inTurns, LineFull } from "../../server/turns";
import { type Actor, director, found, ServiceError, somebody } from "../actor";
import { audit } from "../audit";
import type { ChangeAccount, DirectorSignIn, StudentSignIn } from "./schema";
import { SECRET_WORDS } from "./words";

export { ChangeAccount, DirectorSignIn, StudentSignIn } from "./schema";

const SESSION_MS = { director: 12 * 3600_000, player: 30 * 24 * 3600_000 };
const WINDOW_SEC = 15 * 60;
/** Wrong tries in a window before what was tried rests. */
const TRIES = 8;
/** Sign-ins that are looked up at once; a flood of them leaves the database to everybody else. */
const lookUp = inTurns(3);
/** A device on which nobody signed in for so long is a stranger again. */
const DEVICE_DAYS = 400;

export interface NewSession {
  token: string;
  expiresAt: Date;
  /** What this device keeps to be known again. */
  device: string;
}

/** The four words as they are compared. */
function wordsKey(words: string): string {
  return words
    .toLowerCase()
    .split(/[^a-z]+/)
    .filter(Boolean)
    .join(" ");
}

/** Four new words for a card. */
export function drawWords(): string {
  return Array.from({ length: 4 }, () => SECRET_WORDS[randomInt(SECRET_WORDS.length)]).join(" ");
}

/** @param device  what the browser kept from an earlier sign-in, if anything */
export async function signInDirector(
  input: z.output<typeof DirectorSignIn>,
  device?: string,
): Promise<NewSession> {
  const { user, account, known, subject } = await lookUp(async () => {
    const user = await User.findOne({ where: { email: input.email } });
    const account = user?.id ?? null;
    const known = await isKnown(device, account);
    // Strangers who try an address do not lock out the devices it is used on.
    const subject = known ? `device:${account}:${device}` : `director:${account ?? input.email}`;
    await withinTries(subject, "director", account);
    return { user, account, known, subject };
  });
  const right = await fits(user?.passwordHash ?? null, input.password, known);
  const membership = user && right ? await Membership.findOne({ where: { userId: user.id } }) : null;
  if (!user || !membership)
    throw wrong("director", account, "This e-mail address and password do not fit together.");
  await forgive(subject);
  return openSession(
    { userId: user.id, playerId: null, bandId: membership.bandId },
    SESSION_MS.director,
    device,
  );
}

/** @param device  what the browser kept from an earlier sign-in, if anything */
export async function signInStudent(
  input: z.output<typeof StudentSignIn>,
  device?: string,
): Promise<NewSession> {
  const words = wordsKey(input.words);
  const { player, account, known, subject } = await lookUp(async () => {
    // What is no class code has no class: the column holds ASCII only.
    const band = /^[A-Z0-9-]{1,24}$/.test(input.classCode)
      ? await Band.findOne({ where: { classCode: input.classCode } })
      : null;
    const player = band
      ? await Player.findOne({ where: { bandId: band.id, nameKey: nameKey(input.name) } })
      : null;
    const account = player?.id ?? null;
    const known = await isKnown(device, account);
    // Tries are counted by the first word too: who guesses at a card's four words rests their own guesses, and the right
    // card only when it happens to begin alike.
    const who = account ?? `${input.classCode}:${nameKey(input.name)}`;
    const subject = known ? `device:${account}:${device}` : `player:${who}:${words.split(" ")[0]}`;
    await withinTries(subject, "student", account);
    return { player, account, known, subject };
  });
  const right = await fits(player?.secretHash ?? null, words, known);
  if (!player || !right)
    throw wrong(
      "student",
      account,
      "The class code, name and four words do not fit together. Compare them with your card.",
    );
  await forgive(subject);
  return openSession({ userId: null, playerId: player.id, bandId: player.bandId }, SESSION_MS.player, device);
}

/** Who holds this session token; nobody when it is unknown or has run out. */
export async function actorOf(token: string | undefined): Promise<Actor> {
  if (!token || token.length > 100) return { kind: "nobody" };
  const owner = await ownerOfSession(hashToken(token));
  if (!owner) return { kind: "nobody" };
  const { userId, playerId, bandId, name } = owner;
  if (userId) return { kind: "director", userId, bandId, name };
  return playerId ? { kind: "player", playerId, bandId, name } : { kind: "nobody" };
}

export async function signOut(token: string | undefined): Promise<void> {
  if (token) await Session.destroy({ where: { tokenHash: hashToken(token) } });
}

/** Ends every session of the person who asks, on every device; those devices are strangers from then on. */
export async function signOutEverywhere(actor: Actor): Promise<void> {
  const who = somebody(actor);
  await Session.destroy({
    where: who.kind === "director" ? { userId: who.userId } : { playerId: who.playerId },
  });
  await KnownDevice.destroy({ where: { account: who.kind === "director" ? who.userId : who.playerId } });
}

/** What a director's account says of them. */
export async function accountOf(actor: Actor): Promise<{ name: string; email: string }> {
  const { name, email } = found(await User.findByPk(director(actor).userId), "account");
  return { name, email };
}

/**
 * Changes the director's own name, address or password. A new password ends every sign-in of the account, also on the
 * devices it was known on; the one at hand is opened anew.
 * @returns the session to go on with, null where the old one stays
 * @throws ServiceError when the password of today is wrong, tried too often, or the address belongs to somebody else
 */
export async function changeAccount(
  actor: Actor,
  input: z.output<typeof ChangeAccount>,
): Promise<NewSession | null> {
  const who = director(actor);
  const user = found(await User.findByPk(who.userId), "account");
  const subject = `account:${who.userId}`;
  await withinTries(subject, "account", who.userId);
  if (!(await fits(user.passwordHash, input.password, true)))
    throw new ServiceError("bad-input", "This is not the password you have now.");
  await forgive(subject);
  const passwordHash = input.newPassword ? await hashSecret(input.newPassword) : user.passwordHash;
  try {
    await database().transaction(async (transaction) => {
      await user.update({ name: input.name, email: input.email, passwordHash }, { transaction });
      await audit(who, input.newPassword ? "change-password" : "change-account", who.userId, transaction);
    });
  } catch (error) {
    if (error instanceof UniqueConstraintError)
      throw new ServiceError("bad-input", "Another account has this e-mail address.");
    throw error;
  }
  if (!input.newPassword) return null;
  await signOutEverywhere(who);
  return openSession(
    { userId: who.userId, playerId: null, bandId: who.bandId },
    SESSION_MS.director,
    undefined,
  );
}

/** Takes away sessions, tries and devices that have run out. @returns how many rows went */
export function sweepAccounts(): Promise<number> {
  return sweepSignIns(WINDOW_SEC, DEVICE_DAYS);
}

async function openSession(
  owner: { userId: string | null; playerId: string | null; bandId: string },
  lasts: number,
  device: string | undefined,
): Promise<NewSession> {
  const token = randomBytes(32).toString("base64url");
  const now = Date.now();
  const expiresAt = new Date(now + lasts);
  await Session.create({ tokenHash: hashToken(token), ...owner, createdAt: new Date(now), expiresAt });
  const kept = device ?? randomBytes(32).toString("base64url");
  await KnownDevice.upsert({
    device: hashToken(kept),
    account: (owner.userId ?? owner.playerId)!,
    lastUsedAt: new Date(now),
  });
  return { token, expiresAt, device: kept };
}

function hashToken(token: string): string {
  return createHash("sha256").update(token).digest("hex");
}

async function isKnown(device: string | undefined, account: string | null): Promise<boolean> {
  if (!device || !account) return false;
  return (await KnownDevice.count({ where: { device: hashToken(device), account } })) > 0;
}

async function fits(stored: string | null, secret: string, known: boolean): Promise<boolean> {
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

/** Counts a try before it is made: tries at the same moment are all counted. @throws ServiceError beyond the limit */
async function withinTries(subject: string, kind: string, account: string | null): Promise<void> {
  const tries = await countTry(hashToken(subject), WINDOW_SEC);
  if (tries <= TRIES) return;
  if (tries === TRIES + 1) log().warn({ kind, account }, "sign-in rests after too many wrong tries");
  throw new ServiceError(
    "too-many-tries",
    "There were too many wrong tries. Wait fifteen minutes, then try again.",
  );
}

/** A failed sign-in is noted by the account it was for, never by a name that was typed. */
function wrong(kind: string, account: string | null, sentence: string): ServiceError {
  log().info({ kind, account }, "a sign-in failed");
  return new ServiceError("bad-input", sentence);
}

async function forgive(subject: string): Promise<void> {
  await SignInAttempt.destroy({ where: { subject: hashToken(subject) } });
}
