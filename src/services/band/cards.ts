import type { z } from "zod";
import { Band, CardDraw, KnownDevice, Player, Session, touchBand } from "../../data";
import { database } from "../../server/database";
import { hashSecret } from "../../server/hashing";
import { drawWords } from "../accounts";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import type { DrawCards } from "./schema";

/** A sign-in card, shown once. */
export interface DrawnCard {
  playerId: string;
  name: string;
  classCode: string;
  words: string;
}

/** For so long a draw can be taken back. */
const UNDO_MS = 60_000;
/** A minute for the director, and a little for the way. */
const GRACE_MS = 15_000;

/**
 * Draws new words for players' cards; their old cards and open sign-ins end. A draw for many comes in several calls of one
 * id, so that it shows how far it is, and is taken back as one.
 */
export async function drawCards(
  actor: Actor,
  { drawId, playerIds }: z.output<typeof DrawCards>,
): Promise<DrawnCard[]> {
  const who = director(actor);
  const band = found(await Band.findByPk(who.bandId), "band");
  const players = await Player.findAll({
    where: { id: playerIds, bandId: who.bandId, leftOn: null },
    order: [["name", "ASC"]],
  });
  if (players.length !== new Set(playerIds).size)
    throw new ServiceError("not-found", "One of these players does not exist, or belongs to another band.");
  const drawn: (DrawnCard & { hash: string })[] = [];
  for (const player of players) {
    const words = drawWords();
    drawn.push({
      playerId: player.id,
      name: player.name,
      classCode: band.classCode,
      words,
      hash: await hashSecret(words),
    });
  }
  await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    const draw = await CardDraw.findByPk(drawId, { transaction, lock: true });
    if (draw && draw.bandId !== who.bandId) throw new ServiceError("not-found", "There is no such draw.");
    const ended = players.map(({ id, secretHash }): [string, string | null] => [id, secretHash]);
    if (draw) await draw.update({ ended: [...draw.ended, ...ended], createdAt: new Date() }, { transaction });
    else
      await CardDraw.create(
        { id: drawId, bandId: who.bandId, ended, createdAt: new Date() },
        { transaction },
      );
    for (const { playerId, hash } of drawn) {
      await Player.update({ secretHash: hash }, { where: { id: playerId }, transaction });
      await Session.update({ endedBy: drawId }, { where: { playerId, endedBy: null }, transaction });
      await KnownDevice.destroy({ where: { account: playerId }, transaction });
      await audit(who, "new-card", playerId, transaction);
    }
  });
  return drawn.map(({ hash: _hash, ...card }) => card);
}

/** Takes a draw of cards back within a minute: the old cards open again, and those who were signed in still are. */
export async function undoDraw(actor: Actor, drawId: string): Promise<{ players: number }> {
  const who = director(actor);
  return database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    const draw = found(
      await CardDraw.findOne({ where: { id: drawId, bandId: who.bandId }, transaction, lock: true }),
      "draw of cards",
    );
    if (Date.now() - draw.createdAt.getTime() > UNDO_MS + GRACE_MS)
      throw new ServiceError(
        "conflict",
        "A minute has passed; the new cards hold. Draw again if one is lost.",
      );
    for (const [playerId, secretHash] of draw.ended) {
      await Player.update({ secretHash }, { where: { id: playerId, bandId: who.bandId }, transaction });
      await Session.destroy({ where: { playerId, endedBy: null }, transaction });
      await Session.update({ endedBy: null }, { where: { playerId, endedBy: drawId }, transaction });
      await audit(who, "old-card-back", playerId, transaction);
    }
    await draw.destroy({ transaction });
    return { players: draw.ended.length };
  });
}
