import type { Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { crossesBreak, homeOf, instrumentById, pitchName, pitchToMidi, spellMidi } from "../../core/music";
import { OVER_THE_BREAK, type Thing, thingsOf } from "../../core/progress";
import { seatsFor } from "../../core/ready";
import {
  agreedPart,
  derivePart,
  forDrumsOnly,
  type Known,
  newIn,
  type Score,
  timeline,
  vocabularyOf,
} from "../../core/score";
import {
  Band,
  Exemption,
  Group,
  Line,
  type NamedSeat,
  newestRevisionOf,
  Player,
  seatsOfBand,
  seatsOfGroup,
  TakenAway,
  Taught,
  Teaching,
  type TeachingRow,
  teachingsOf,
  touchBand,
} from "../../data";
import { database } from "../../server/database";
import { type Actor, type Director, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { today as todayIn } from "../calendar";
import { bandKnowledge } from "./known";
import { nameOf } from "./names";
import type { Exempt, OfPlayer, TeachConcert, TeachLine, TeachThings } from "./schema";

export interface TaughtAnswer {
  teachingId: string;
  players: number;
  /** Different things that somebody learned. */
  things: number;
}

/** What one seat learned. */
interface Lesson {
  seat: NamedSeat;
  things: Thing[];
}

/** Marks a line as taught: each player of the group learns what is new to them in their own part. */
export async function teachLine(
  actor: Actor,
  lineId: string,
  input: z.output<typeof TeachLine>,
): Promise<TaughtAnswer> {
  const who = director(actor);
  await groupOf(who, input.groupId);
  const line = found(await Line.findOne({ where: { id: lineId, bandId: who.bandId } }), "line");
  const { score } = found(await newestRevisionOf(who.bandId, lineId), "line");
  const seats = (await seatsOfGroup(input.groupId)).filter(
    (seat) => input.instruments.length === 0 || input.instruments.includes(seat.instrumentId),
  );
  const lessons = await lessonsOf(who.bandId, score, seats, input.on);
  return database().transaction((transaction) =>
    keepTeaching(
      who,
      lessons,
      { lineId, groupId: input.groupId, said: lineName(line), on: input.on },
      transaction,
    ),
  );
}

/** How a line is called in a reason. */
export function lineName({ number, title }: Pick<Line, "number" | "title">): string {
  return number ? `No. ${number}` : title.slice(0, 80);
}

/**
 * What is new in a line for each of some seats, as things stand on a day.
 * @param partIdOf  the part each of them reads; the agreed one when left out
 */
export async function lessonsOf(
  bandId: string,
  score: Score,
  seats: readonly NamedSeat[],
  on: string,
  partIdOf: (seat: NamedSeat) => string | null = (seat) => agreedPart(score, seat.instrumentId, seat.part),
): Promise<Lesson[]> {
  const knowledge = await bandKnowledge(bandId, on);
  const made = new Map<object, Map<string, Thing[]>>();
  return seatsFor(forDrumsOnly(score), seats).map((seat) => {
    const { known } = knowledge.of(seat);
    const partId = partIdOf(seat);
    const ofKnown = made.get(known) ?? new Map<string, Thing[]>();
    made.set(known, ofKnown);
    const key = `${seat.instrumentId}/${seat.stage}/${partId}`;
    const things = ofKnown.get(key) ?? newThings(score, seat, known, partId);
    ofKnown.set(key, things);
    return { seat, things };
  });
}

function newThings(
  score: Score,
  { instrumentId, stage }: NamedSeat,
  known: Known,
  partId: string | null,
): Thing[] {
  if (score.catalogued) return [];
  const instrument = instrumentById(instrumentId);
  const part = derivePart(score, instrument, stage, { known: known.notes, partId }).score;
  const fresh = newIn(vocabularyOf(part), known);
  const things = thingsOf({
    notes: new Set(fresh.notes.map(pitchToMidi)),
    rhythms: new Set(fresh.rhythms),
    signs: new Set(fresh.signs),
  });
  const midis = timeline(part).notes.map((note) => (note.written ? pitchToMidi(note.written) : null));
  const crosses = midis.some((midi, i) => {
    const before = midis[i - 1];
    return midi != null && before != null && crossesBreak(instrument, before, midi);
  });
  return crosses ? [...things, { kind: "technique", thing: OVER_THE_BREAK }] : things;
}

/** Marks single things as taught to a group, a section of it, or one player. */
export async function teachThings(actor: Actor, input: z.output<typeof TeachThings>): Promise<TaughtAnswer> {
  const who = director(actor);
  let seats: NamedSeat[];
  if (input.playerId) {
    found(await Player.findOne({ where: { id: input.playerId, bandId: who.bandId } }), "player");
    seats = (await seatsOfBand(who.bandId)).filter((seat) => seat.playerId === input.playerId);
  } else {
    await groupOf(who, input.groupId!);
    seats = await seatsOfGroup(input.groupId!);
  }
  if (input.instrumentId) seats = seats.filter((seat) => seat.instrumentId === input.instrumentId);
  const said = input.things
    .slice(0, 3)
    .map((each) => nameOf(each, input.instrumentId))
    .join(", ");
  const lessons = seats.map((seat) => ({ seat, things: input.things }));
  return database().transaction((transaction) =>
    keepTeaching(
      who,
      lessons,
      { groupId: input.playerId ? null : input.groupId, said, on: input.on },
      transaction,
    ),
  );
}

/** Marks a concert note as taught to a group: each instrument learns its own, in the octave it knows. */
export async function teachConcert(
  actor: Actor,
  input: z.output<typeof TeachConcert>,
): Promise<TaughtAnswer> {
  const who = director(actor);
  await groupOf(who, input.groupId);
  const lessons = (await seatsOfGroup(input.groupId)).flatMap((seat): Lesson[] => {
    const instrument = instrumentById(seat.instrumentId);
    if (!instrument.ranges || instrument.drums) return [];
    return [{ seat, things: [{ kind: "note", thing: String(homeOf(instrument, input.pitchClass)) }] }];
  });
  const said = `concert ${pitchName(spellMidi(60 + input.pitchClass, -2), false)}`;
  return database().transaction((transaction) =>
    keepTeaching(who, lessons, { groupId: input.groupId, said, on: input.on }, transaction),
  );
}

/** Keeps what was taught, with its reason. @throws ServiceError when it is nothing for nobody */
export async function keepTeaching(
  who: Director,
  lessons: readonly Lesson[],
  about: { lineId?: string | null; assignmentId?: string; groupId: string | null; said: string; on: string },
  transaction: Transaction,
): Promise<TaughtAnswer> {
  if (lessons.length === 0) throw new ServiceError("bad-input", "There is nobody to teach this to.");
  const teachingId = uuid();
  await touchBand(who.bandId, transaction);
  await Teaching.create(
    {
      id: teachingId,
      bandId: who.bandId,
      lineId: about.lineId ?? null,
      assignmentId: about.assignmentId ?? null,
      groupId: about.groupId,
      said: about.said,
      taughtOn: about.on,
    },
    { transaction },
  );
  const rows = lessons.flatMap(({ seat, things }) =>
    things.map(({ kind, thing }) => ({
      teachingId,
      playerId: seat.playerId,
      bandId: who.bandId,
      instrumentId: seat.instrumentId,
      kind,
      thing,
    })),
  );
  await Taught.bulkCreate(rows, { transaction, ignoreDuplicates: true });
  await audit(who, "teach", teachingId, transaction);
  return {
    teachingId,
    players: new Set(lessons.map(({ seat }) => seat.playerId)).size,
    things: new Set(rows.map(({ kind, thing }) => `${kind}/${thing}`)).size,
  };
}

/** Takes a teaching back, or puts it in force again. */
export async function setTaught(actor: Actor, teachingId: string, taught: boolean): Promise<void> {
  const who = director(actor);
  const teaching = found(await Teaching.findOne({ where: { id: teachingId, bandId: who.bandId } }), "lesson");
  await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    await teaching.update({ removedAt: taught ? null : new Date() }, { transaction });
    await audit(who, taught ? "teach-again" : "take-teaching-back", teachingId, transaction);
  });
}

/** The band's local day. */
export async function todayOf(actor: Actor): Promise<string> {
  return todayIn(found(await Band.findByPk(director(actor).bandId), "band").timeZone);
}

/** What was taught with a line, the newest first. */
export async function teachingsOfLine(actor: Actor, lineId: string): Promise<TeachingRow[]> {
  const { bandId } = director(actor);
  return teachingsOf(bandId, { lineId });
}

/** Takes a thing away from what a player knows, or gives it back. What is taught or shown on a later day counts again. */
export async function setTakenAway(
  actor: Actor,
  playerId: string,
  { instrumentId, kind, thing }: z.output<typeof OfPlayer>,
  away: string | null,
): Promise<void> {
  const who = director(actor);
  found(await Player.findOne({ where: { id: playerId, bandId: who.bandId } }), "player");
  await database().transaction(async (transaction) => {
    const where = { playerId, instrumentId, kind, thing };
    await touchBand(who.bandId, transaction);
    await TakenAway.destroy({ where, transaction });
    if (away) await TakenAway.create({ ...where, bandId: who.bandId, onDate: away }, { transaction });
    await audit(who, away ? "take-knowledge-away" : "give-knowledge-back", playerId, transaction);
  });
}

/** Says that a written note is not judged for a player (small hands), or is again. */
export async function setExempt(
  actor: Actor,
  playerId: string,
  { instrumentId, writtenMidi, exempt }: z.output<typeof Exempt>,
): Promise<void> {
  const who = director(actor);
  found(await Player.findOne({ where: { id: playerId, bandId: who.bandId } }), "player");
  await database().transaction(async (transaction) => {
    const where = { playerId, instrumentId, writtenMidi };
    await touchBand(who.bandId, transaction);
    await Exemption.destroy({ where, transaction });
    if (exempt) await Exemption.create({ ...where, bandId: who.bandId }, { transaction });
    await audit(who, exempt ? "exempt-note" : "judge-note", playerId, transaction);
  });
}

async function groupOf({ bandId }: Director, groupId: string): Promise<Group> {
  return found(await Group.findOne({ where: { id: groupId, bandId, archivedAt: null } }), "group");
}
