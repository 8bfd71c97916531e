import { Op } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { groupBy } from "../../core/lists";
import { isGivenTo, Line, PencilMark, Player } from "../../data";
import { type Actor, director, found, type PlayerActor, ServiceError, somebody } from "../actor";
import { newestRevision } from "./revise";
import type { PencilView, WritePencil } from "./schema";

/** So many marks of one person stand on a part; more would hide the music. */
const MOST_MARKS = 200;

/**
 * Marks on a line that the asker may see: a director's own and what players share; a player's own and what the director
 * shares for everybody or for the player's instrument.
 */
export async function pencilOf(
  actor: Actor,
  lineId: string,
  instrumentId: string | null,
): Promise<PencilView[]> {
  const who = somebody(actor);
  await lineOpenTo(actor, lineId);
  const forInstrument = { [Op.or]: [null, ...(instrumentId ? [instrumentId] : [])] };
  const marks = await PencilMark.findAll({
    where: {
      lineId,
      bandId: who.bandId,
      ...(who.kind === "director"
        ? { [Op.or]: [{ playerId: null }, { shared: true }] }
        : {
            [Op.or]: [
              { playerId: who.playerId },
              { playerId: null, shared: true, instrumentId: forInstrument },
            ],
          }),
    },
    order: [["id", "ASC"]],
    limit: 2 * MOST_MARKS,
  });
  const names = new Map(
    (
      await Player.findAll({
        where: { id: marks.flatMap((mark) => mark.playerId ?? []) },
        attributes: ["id", "name"],
      })
    ).map((player) => [player.id, player.name]),
  );
  return marks.map((mark) => ({
    id: mark.id,
    eventId: mark.eventId,
    instrumentId: mark.instrumentId,
    kind: mark.kind,
    text: mark.text,
    shared: Boolean(mark.shared),
    author: mark.playerId === null ? "director" : (names.get(mark.playerId) ?? "a player"),
    own: who.kind === "director" ? mark.playerId === null : mark.playerId === who.playerId,
  }));
}

/** What is printed: the director's shared marks under null, each player's own under the player. */
export async function pencilForPrint(
  bandId: string,
  lineId: string,
): Promise<Map<string | null, Pick<PencilView, "eventId" | "kind" | "text" | "instrumentId">[]>> {
  const marks = await PencilMark.findAll({
    where: { bandId, lineId, [Op.or]: [{ playerId: { [Op.ne]: null } }, { shared: true }] },
    order: [["id", "ASC"]],
  });
  return groupBy(marks, (mark) => mark.playerId);
}

/** Writes a mark under the asker's name. A note has one dynamic of one hand: a new one takes the place of the one before. */
export async function writePencil(
  actor: Actor,
  lineId: string,
  input: z.output<typeof WritePencil>,
): Promise<{ id: string }> {
  const who = somebody(actor);
  await lineOpenTo(actor, lineId);
  const { score } = await newestRevision(who.bandId, lineId);
  const notes = score.parts.flatMap((part) => part.measures.flatMap((measure) => measure.events));
  if (!notes.some((event) => event.id === input.eventId))
    throw new ServiceError("not-found", "This note does not exist in the line.");
  const playerId = who.kind === "player" ? who.playerId : null;
  const instrumentId = input.instrumentId ?? null;
  if (input.kind === "dynamic")
    await PencilMark.destroy({
      where: { lineId, bandId: who.bandId, playerId, instrumentId, eventId: input.eventId, kind: input.kind },
    });
  const written = await PencilMark.count({ where: { lineId, bandId: who.bandId, playerId } });
  if (written >= MOST_MARKS)
    throw new ServiceError(
      "bad-input",
      `There are ${MOST_MARKS} marks on this line already; rub some out first.`,
    );
  const id = uuid();
  await PencilMark.create({
    id,
    bandId: who.bandId,
    lineId,
    eventId: input.eventId,
    instrumentId,
    playerId,
    kind: input.kind,
    text: input.text,
    shared: input.shared,
  });
  return { id };
}

/** Rubs out a mark of one's own. */
export async function erasePencil(actor: Actor, markId: string): Promise<void> {
  const who = somebody(actor);
  const mark = found(await PencilMark.findOne({ where: { id: markId, bandId: who.bandId } }), "mark");
  if (mark.playerId !== (who.kind === "player" ? who.playerId : null))
    throw new ServiceError("not-found", "This mark does not exist, or it belongs to somebody else.");
  await mark.destroy();
}

/** A director opens every line of the band, a player the lines of own tasks. @throws ServiceError for any other */
export async function lineOpenTo(actor: Actor, lineId: string): Promise<void> {
  if (actor.kind === "player") return playersLine(actor, lineId);
  found(await Line.findOne({ where: { id: lineId, bandId: director(actor).bandId } }), "line");
}

/** @throws ServiceError unless the player was given this line */
async function playersLine(who: PlayerActor, lineId: string): Promise<void> {
  found((await isGivenTo(who.playerId, lineId)) || null, "line");
}
