import { randomBytes, randomInt } from "node:crypto";
import { Op, UniqueConstraintError } from "sequelize";
import type { z } from "zod";
import { nameKey, tidyText } from "../../core/text";
import {
  Band,
  KnownDevice,
  Membership,
  ownerOfSession,
  Player,
  Session,
  sweepRooms,
  sweepSignIns,
  User,
} from "../../data";
import { database } from "../../server/database";
import { hashSecret } from "../../server/hashing";
import { log } from "../../server/log";
import { inTurns } from "../../server/turns";
import { type Actor, director, found, ServiceError, somebody } from "../actor";
import { audit } from "../audit";
import { fits, forgive, needPassword, WINDOW_SEC, withinTries } from "./guard";
import type { ChangeAccount, DirectorSignIn, StudentSignIn } from "./schema";
import { hashToken } from "./tokens";
import { SECRET_WORDS } from "./words";

export { CODE_TRIES, withinTries } from "./guard";
export {
  acceptInvitation,
  bandInvitation,
  drawBandInvitation,
  invitationFor,
  inviteDirector,
  leaveBand,
  outboxOf,
  removeDirector,
} from "./invitations";
export { codesLeft, makeCodes, newCodesFor, recover } from "./recovery";
export {
  AcceptInvitation,
  ChangeAccount,
  DirectorSignIn,
  InviteDirector,
  OpenBand,
  PasswordOnly,
  Recover,
  StudentSignIn,
} from "./schema";
export { codeKey, drawCode, hashToken } from "./tokens";

const SESSION_MS = { director: 12 * 3600_000, player: 30 * 24 * 3600_000 };
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
  const membership =
    user && right ? await Membership.findOne({ where: { userId: user.id, leftAt: null } }) : null;
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
  const { players, account, known, subject } = await lookUp(async () => {
    // What is no class code has no class: the column holds ASCII only.
    const band = /^[A-Z0-9-]{1,24}$/.test(input.classCode)
      ? await Band.findOne({ where: { classCode: input.classCode } })
      : null;
    // Two may have one name, and a child may type what it is called: the card tells them apart.
    const players = band
      ? await Player.findAll({
          where: { bandId: band.id, leftOn: null, ...namedLike(input.name) },
          order: [["id", "ASC"]],
          limit: MOST_NAMESAKES,
        })
      : [];
    const knownPlayer = device ? await knownAmong(device, players) : undefined;
    const account = (knownPlayer ?? players[0])?.id ?? null;
    const known = knownPlayer !== undefined;
    // Tries are counted by the first word too: who guesses at a card's four words rests their own guesses, and the right
    // card only when it happens to begin alike.
    const who = account ?? `${input.classCode}:${nameKey(input.name)}`;
    const subject = known ? `device:${account}:${device}` : `player:${who}:${words.split(" ")[0]}`;
    await withinTries(subject, "student", account);
    return { players, account, known, subject };
  });
  const player = await holderOf(players, words, known);
  if (!player)
    throw wrong(
      "student",
      account,
      "The class code, name and four words do not fit together. Compare them with your card.",
    );
  await forgive(subject);
  return openSession({ userId: null, playerId: player.id, bandId: player.bandId }, SESSION_MS.player, device);
}

/** Namesakes whose cards are compared at one sign-in. */
const MOST_NAMESAKES = 5;

function namedLike(name: string) {
  const key = nameKey(name);
  return { [Op.or]: [{ nameKey: key }, { calledName: tidyText(name) }] };
}

async function knownAmong(device: string, players: readonly Player[]): Promise<Player | undefined> {
  for (const player of players) if (await isKnown(device, player.id)) return player;
  return undefined;
}

/** The one of some namesakes whose card has these words. Without any the comparison takes as long. */
async function holderOf(
  players: readonly Player[],
  words: string,
  known: boolean,
): Promise<Player | undefined> {
  if (players.length === 0) await fits(null, words, known);
  for (const player of players) if (await fits(player.secretHash, words, known)) return player;
  return undefined;
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

/** Signs a director in who just made the account, or opened it anew. */
export function openDirector({ userId, bandId }: { userId: string; bandId: string }): Promise<NewSession> {
  return openSession({ userId, playerId: null, bandId }, SESSION_MS.director, undefined);
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
  const user = await needPassword(who, input.password);
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
export async function sweepAccounts(): Promise<number> {
  return (await sweepSignIns(WINDOW_SEC, DEVICE_DAYS)) + (await sweepRooms());
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

async function isKnown(device: string | undefined, account: string | null): Promise<boolean> {
  if (!device || !account) return false;
  return (await KnownDevice.count({ where: { device: hashToken(device), account } })) > 0;
}

/** A failed sign-in is noted by the account it was for, never by a name that was typed. */
function wrong(kind: string, account: string | null, sentence: string): ServiceError {
  log().info({ kind, account }, "a sign-in failed");
  return new ServiceError("bad-input", sentence);
}
