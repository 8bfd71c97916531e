import { instrumentById } from "../../core/music";
import { everyNoteOf, everyNoteTogether } from "../../core/progress";
import { type Score, writeMusicXml } from "../../core/score";
import { Group, Player, seatsOfBand, seatsOfGroup } from "../../data";
import { engraveOnce } from "../../server/engrave";
import { type Actor, director, found, ServiceError } from "../actor";
import { bandKnowledge } from "./known";

/** "Play every note you know, up and back" for one player's instruments, engraved; exempt notes are left out. */
export async function everyNoteFor(
  actor: Actor,
  playerId: string,
): Promise<{ instrumentId: string; score: Score; svg: string }[]> {
  const { bandId } = director(actor);
  found(await Player.findOne({ where: { id: playerId, bandId }, attributes: ["id"] }), "player");
  const [seats, knowledge] = await Promise.all([seatsOfBand(bandId), bandKnowledge(bandId)]);
  const made = [];
  for (const seat of seats.filter((each) => each.playerId === playerId)) {
    const { things } = knowledge.of(seat);
    const notes = things.flatMap((each) =>
      each.kind === "note" && !each.exempt ? [Number(each.thing)] : [],
    );
    const instrument = instrumentById(seat.instrumentId);
    const score = instrument.ranges && !instrument.drums ? everyNoteOf(instrument, notes) : null;
    if (score)
      made.push({
        instrumentId: seat.instrumentId,
        score,
        svg: await engraveOnce(writeMusicXml(score), "wide"),
      });
  }
  return made;
}

/** The same for a group: the notes all of it know, as a line in concert pitch. @throws ServiceError where they share too few */
export async function everyNoteOfGroup(
  bandId: string,
  groupId: string,
): Promise<{ name: string; score: Score }> {
  const group = found(await Group.findOne({ where: { id: groupId, bandId, archivedAt: null } }), "group");
  const knowledge = await bandKnowledge(bandId);
  const players = (await seatsOfGroup(groupId)).map((seat) => ({
    instrument: instrumentById(seat.instrumentId),
    known: knowledge.of(seat).known.notes,
  }));
  const score = everyNoteTogether(players);
  if (!score)
    throw new ServiceError("bad-input", `The players of ${group.name} share fewer than two notes so far.`);
  return { name: group.name, score };
}
