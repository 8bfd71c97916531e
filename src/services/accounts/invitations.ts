import { randomBytes } from "node:crypto";
import { type Transaction, UniqueConstraintError } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import {
  Band,
  directorsOfBand,
  Invitation,
  Membership,
  OutboxLetter,
  Session,
  touchBand,
  User,
} from "../../data";
import { database } from "../../server/database";
import { hashSecret } from "../../server/hashing";
import { type Actor, type Director, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { withinTries } from "./guard";
import type { AcceptInvitation, InviteDirector } from "./schema";
import { codeKey, drawCode, hashToken } from "./tokens";

const INVITATION_DAYS = 14;
const MOST_LETTERS = 200;

export interface Letter {
  id: string;
  recipient: string;
  subject: string;
  body: string;
  createdAt: string;
}

/**
 * Invites a further director by a link. No mail server is needed: the letter lies in the outbox, to be sent from there.
 * @param origin  address of this application, "https://..."
 */
export async function inviteDirector(
  actor: Actor,
  { email }: z.output<typeof InviteDirector>,
  origin: string,
): Promise<{ letterId: string }> {
  const who = director(actor);
  const band = found(await Band.findByPk(who.bandId), "band");
  if (await User.findOne({ where: { email } }))
    throw new ServiceError("conflict", "There is an account with this address already.", {
      email: "Ask for another address.",
    });
  const token = randomBytes(24).toString("base64url");
  const letterId = uuid();
  await database().transaction(async (transaction) => {
    await Invitation.create(
      {
        id: uuid(),
        bandId: who.bandId,
        email,
        tokenHash: hashToken(token),
        expiresAt: new Date(Date.now() + INVITATION_DAYS * 86_400_000),
      },
      { transaction },
    );
    await OutboxLetter.create(
      {
        id: letterId,
        bandId: who.bandId,
        recipient: email,
        subject: `Direct ${band.name} with ${who.name}`,
        body: `${who.name} invites you to direct ${band.name} with Ulu Bench.\n\nOpen this address within ${INVITATION_DAYS} days and choose a password:\n${origin}/join#${token}\n\nWho opens it can hear the players' takes, so keep it to yourself.`,
        createdAt: new Date(),
      },
      { transaction },
    );
    await audit(who, "invite-director", letterId, transaction);
  });
  return { letterId };
}

/** Letters that wait to be sent, the newest first. */
export async function outboxOf(actor: Actor): Promise<Letter[]> {
  const { bandId } = director(actor);
  const letters = await OutboxLetter.findAll({
    where: { bandId },
    order: [["created_at", "DESC"]],
    limit: MOST_LETTERS,
  });
  return letters.map(({ id, recipient, subject, body, createdAt }) => ({
    id,
    recipient,
    subject,
    body,
    createdAt: createdAt.toISOString(),
  }));
}

async function openInvitation(tokenHash: string): Promise<Invitation> {
  const invitation = await Invitation.findOne({ where: { tokenHash, usedAt: null } });
  if (!invitation || invitation.expiresAt < new Date())
    throw new ServiceError("not-found", "This invitation was used, or has run out. Ask for another one.");
  return invitation;
}

/** Whom an invitation is for; to be shown before it is accepted. */
export async function invitationFor(token: string): Promise<{ band: string; email: string }> {
  await withinTries(`invitation:${token.slice(0, 8)}`, "invitation", null);
  const invitation = await openInvitation(hashToken(token));
  const band = found(invitation.bandId ? await Band.findByPk(invitation.bandId) : null, "invitation");
  return { band: band.name, email: invitation.email };
}

/** Makes the account of an invited director. @returns the account, to be signed in */
export async function acceptInvitation(
  input: z.output<typeof AcceptInvitation>,
): Promise<{ userId: string; bandId: string }> {
  await withinTries(`invitation:${input.token.slice(0, 8)}`, "invitation", null);
  const invitation = await openInvitation(hashToken(input.token));
  const bandId = found(invitation.bandId, "invitation");
  const userId = uuid();
  const passwordHash = await hashSecret(input.newPassword);
  try {
    await database().transaction(async (transaction) => {
      await useUp(invitation.id, transaction);
      await User.create(
        { id: userId, email: invitation.email, name: input.name, passwordHash },
        { transaction },
      );
      await Membership.create({ userId, bandId, role: "director" }, { transaction });
      await audit({ kind: "director", userId, bandId, name: input.name }, "join-band", userId, transaction);
    });
  } catch (error) {
    if (error instanceof UniqueConstraintError)
      throw new ServiceError("conflict", "There is an account with this address already. Sign in with it.");
    throw error;
  }
  return { userId, bandId };
}

/** Two who open an invitation at the same moment: one of them is late. */
async function useUp(id: string, transaction: Transaction): Promise<void> {
  const [used] = await Invitation.update(
    { usedAt: new Date() },
    { where: { id, usedAt: null }, transaction },
  );
  if (used === 0) throw new ServiceError("conflict", "This invitation was used a moment ago.");
}

/** A code from the command line, by which somebody makes a band of their own. */
export async function drawBandInvitation(email = ""): Promise<string> {
  const code = drawCode(4);
  await Invitation.create({
    id: uuid(),
    bandId: null,
    email,
    tokenHash: hashToken(codeKey(code)),
    expiresAt: new Date(Date.now() + INVITATION_DAYS * 86_400_000),
  });
  return code;
}

/** The invitation that a code opens a band with, not yet used up. @throws ServiceError for a wrong code, or too many of them */
export async function bandInvitation(
  code: string,
): Promise<{ useUp: (transaction: Transaction) => Promise<void> }> {
  // Codes have 80 bits; what is counted keeps a flood from the database.
  await withinTries(`band:${codeKey(code).slice(0, 4)}`, "band invitation", null);
  const invitation = await openInvitation(hashToken(codeKey(code)));
  if (invitation.bandId !== null)
    throw new ServiceError("not-found", "This invitation is to join a band, not to make one.");
  return { useUp: (transaction) => useUp(invitation.id, transaction) };
}

/** Leaves the band; its takes and words stay. The last director stays. */
export function leaveBand(actor: Actor): Promise<void> {
  const who = director(actor);
  return endMembership(who, who.userId);
}

/** Ends another director's place in the band. */
export function removeDirector(actor: Actor, userId: string): Promise<void> {
  return endMembership(director(actor), userId);
}

async function endMembership(who: Director, userId: string): Promise<void> {
  await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    const directors = await directorsOfBand(who.bandId);
    found(
      directors.find((each) => each.userId === userId),
      "director",
    );
    if (directors.length === 1)
      throw new ServiceError(
        "conflict",
        "A band has at least one director. Invite another before you leave.",
      );
    await Membership.update({ leftAt: new Date() }, { where: { userId, bandId: who.bandId }, transaction });
    // Somebody has to hear the takes.
    if (!directors.some((each) => each.userId !== userId && each.mayHear)) {
      const next = directors.find((each) => each.userId !== userId)!;
      await Membership.update(
        { mayHear: true },
        { where: { userId: next.userId, bandId: who.bandId }, transaction },
      );
    }
    await Session.destroy({ where: { userId, bandId: who.bandId }, transaction });
    await audit(who, userId === who.userId ? "leave-band" : "remove-director", userId, transaction);
  });
}
