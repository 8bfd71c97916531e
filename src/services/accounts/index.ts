import { createHash, randomBytes, randomInt } from "node:crypto";
import { hash, verify } from "@node-rs/argon2";
import type { z } from "zod";
import { Band, Membership, Player, Session, SignInAttempt, User } from "../../data";
import { database } from "../../server/database";
import { type Actor, ServiceError, somebody } from "../actor";
import type { DirectorSignIn, StudentSignIn } from "./schema";
import { SECRET_WORDS } from "./words";

export { DirectorSignIn, StudentSignIn } from "./schema";

/** Argon2id, 19 MiB, two passes: the library's default algorithm with OWASP's second recommended setting (2024). */
const ARGON = { memoryCost: 19456, timeCost: 2, parallelism: 1 };
const SESSION_MS = { director: 12 * 3600_000, player: 30 * 24 * 3600_000 };
const WINDOW_MS = 15 * 60_000;
/** Failures in a window before an account rests; a class code has room for a whole class of typists. */
const ACCOUNT_TRIES = 8;
const CLASS_TRIES = 80;

export interface NewSession {
  token: string;
  expiresAt: Date;
}

export function hashSecret(secret: string): Promise<string> {
  return hash(secret, ARGON);
}

/** A name as it is compared: case, accents' form and spaces do not matter. */
export function nameKey(name: string): string {
  return name.normalize("NFKC").toLocaleLowerCase("en").replace(/\s+/g, " ").trim();
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

export async function signInDirector(input: z.output<typeof DirectorSignIn>): Promise<NewSession> {
  const subject = `director:${input.email.toLowerCase()}`;
  await refuseWhenResting([[subject, ACCOUNT_TRIES]]);
  const user = await User.findOne({ where: { email: input.email.toLowerCase() } });
  const right = await verifyOrWaste(user?.passwordHash ?? null, input.password);
  const membership = user && right ? await Membership.findOne({ where: { userId: user.id } }) : null;
  if (!user || !membership) {
    await countFailure([subject]);
    throw new ServiceError("bad-input", "This e-mail address and password do not fit together.");
  }
  await forgive(subject);
  return openSession({ userId: user.id, playerId: null, bandId: membership.bandId }, SESSION_MS.director);
}

export async function signInStudent(input: z.output<typeof StudentSignIn>): Promise<NewSession> {
  const classCode = input.classCode.toUpperCase().replace(/\s+/g, "");
  const account = `player:${classCode}:${nameKey(input.name)}`;
  const wholeClass = `class:${classCode}`;
  await refuseWhenResting([
    [account, ACCOUNT_TRIES],
    [wholeClass, CLASS_TRIES],
  ]);
  const band = await Band.findOne({ where: { classCode } });
  const player = band
    ? await Player.findOne({ where: { bandId: band.id, nameKey: nameKey(input.name) } })
    : null;
  const right = await verifyOrWaste(player?.secretHash ?? null, wordsKey(input.words));
  if (!player || !right) {
    await countFailure([account, wholeClass]);
    throw new ServiceError(
      "bad-input",
      "The class code, name and four words do not fit together. Compare them with your card.",
    );
  }
  await forgive(account);
  return openSession({ userId: null, playerId: player.id, bandId: player.bandId }, SESSION_MS.player);
}

/** Who holds this session token; nobody when it is unknown or has run out. */
export async function actorOf(token: string | undefined): Promise<Actor> {
  if (!token) return { kind: "nobody" };
  const session = await Session.findByPk(hashToken(token));
  if (!session || session.expiresAt.getTime() < Date.now()) return { kind: "nobody" };
  if (session.userId) {
    const user = await User.findByPk(session.userId);
    return user
      ? { kind: "director", userId: user.id, bandId: session.bandId, name: user.name }
      : { kind: "nobody" };
  }
  const player = await Player.findByPk(session.playerId!);
  return player
    ? { kind: "player", playerId: player.id, bandId: session.bandId, name: player.name }
    : { kind: "nobody" };
}

export async function signOut(token: string | undefined): Promise<void> {
  if (token) await Session.destroy({ where: { tokenHash: hashToken(token) } });
}

/** Ends every session of the person who asks, on every device. */
export async function signOutEverywhere(actor: Actor): Promise<void> {
  const who = somebody(actor);
  await Session.destroy({
    where: who.kind === "director" ? { userId: who.userId } : { playerId: who.playerId },
  });
}

async function openSession(
  owner: { userId: string | null; playerId: string | null; bandId: string },
  lasts: number,
): Promise<NewSession> {
  const token = randomBytes(32).toString("base64url");
  const now = Date.now();
  const expiresAt = new Date(now + lasts);
  await Session.create({ tokenHash: hashToken(token), ...owner, createdAt: new Date(now), expiresAt });
  return { token, expiresAt };
}

function hashToken(token: string): string {
  return createHash("sha256").update(token).digest("hex");
}

let decoy: Promise<string> | undefined;

/** Takes the same time whether the account exists or not. */
async function verifyOrWaste(stored: string | null, secret: string): Promise<boolean> {
  decoy ??= hashSecret("nobody");
  const right = await verify(stored ?? (await decoy), secret);
  return right && stored !== null;
}

function attemptKey(subject: string): string {
  return createHash("sha256").update(subject).digest("hex");
}

async function refuseWhenResting(limits: [subject: string, tries: number][]): Promise<void> {
  for (const [subject, tries] of limits) {
    const attempt = await SignInAttempt.findByPk(attemptKey(subject));
    if (attempt && attempt.failures >= tries && attempt.windowStart.getTime() > Date.now() - WINDOW_MS) {
      throw new ServiceError(
        "too-many-tries",
        "There were too many wrong tries. Wait fifteen minutes, then try again.",
      );
    }
  }
}

async function countFailure(subjects: string[]): Promise<void> {
  for (const subject of subjects) {
    await database().query(
      `INSERT INTO sign_in_attempts (subject, failures, window_start) VALUES (?, 1, UTC_TIMESTAMP(3))
       ON DUPLICATE KEY UPDATE
         failures = IF(window_start < UTC_TIMESTAMP(3) - INTERVAL ? SECOND, 1, failures + 1),
         window_start = IF(window_start < UTC_TIMESTAMP(3) - INTERVAL ? SECOND, UTC_TIMESTAMP(3), window_start)`,
      { replacements: [attemptKey(subject), WINDOW_MS / 1000, WINDOW_MS / 1000] },
    );
  }
}

async function forgive(subject: string): Promise<void> {
  await SignInAttempt.destroy({ where: { subject: attemptKey(subject) } });
}
