import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { groupBy } from "../../core/lists";
import { type Instrument, instrumentById } from "../../core/music";
import { scorePlace } from "../../core/ready";
import type { Score } from "../../core/score";
import {
  type Block,
  buildBlock,
  type CutShort,
  clockOf,
  clockText,
  type PlayerKind,
  partId,
  type Routine as RoutineContentType,
  WarmUpError,
} from "../../core/warmup";
import {
  Group,
  Line,
  membersOfBand,
  Routine,
  RoutineRevision,
  routinesOfBand,
  seatsOfBand,
} from "../../data";
import { database } from "../../server/database";
import type { EngravingWidth } from "../../server/engrave";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { assignMade, type Given } from "../giving";
import { bandKnowledge } from "../knowledge";
import { oneByOne } from "../one-by-one";
import { ownFingerings, partView } from "../parts";
import type { PartView } from "../shelf/schema";
import type { BandSeat, GiveBlock, PreviewBlock, RoutineDetail, RoutineSummary, SaveRoutine } from "./schema";

export { GiveBlock, NewRoutine, PreviewBlock, RoutineContent, SaveRoutine, SetRemoved } from "./schema";

/** Own routines by name, the removed ones left out. */
export async function listRoutines(actor: Actor): Promise<RoutineSummary[]> {
  const { bandId } = director(actor);
  const rows = await routinesOfBand(bandId);
  return rows.map(({ id, title, number, content, changed }) => ({
    id,
    title,
    blocks: content.blocks.length,
    minutes: clockText(clockOf(content).totalSec),
    version: number,
    changed: changed.toISOString().slice(0, 10),
  }));
}

/** Keeps a new routine: from a template, a copy, or empty. */
export async function createRoutine(
  actor: Actor,
  { content }: { content: RoutineContentType },
): Promise<{ id: string }> {
  const who = director(actor);
  await onlyOwnGroups(who.bandId, content);
  const id = uuid();
  await database().transaction(async (transaction) => {
    await Routine.create({ id, bandId: who.bandId, title: content.title }, { transaction });
    await RoutineRevision.create(
      { id: uuid(), bandId: who.bandId, routineId: id, number: 1, content },
      { transaction },
    );
    await audit(who, "create-routine", id, transaction);
  });
  return { id };
}

/** Groups that sit a block out are groups of this band. @throws ServiceError for any other */
async function onlyOwnGroups(bandId: string, { blocks }: RoutineContentType): Promise<void> {
  const named = [...new Set(blocks.flatMap((block) => block.mutedFor))];
  if (named.length > 0 && (await Group.count({ where: { id: named, bandId } })) < named.length)
    throw new ServiceError("not-found", "One of these groups does not exist, or it belongs to another band.");
}

export async function routineDetail(actor: Actor, routineId: string): Promise<RoutineDetail> {
  const { bandId } = director(actor);
  const routine = found(await Routine.findOne({ where: { id: routineId, bandId } }), "routine");
  const revisions = await RoutineRevision.findAll({
    where: { routineId, bandId },
    order: [["number", "DESC"]],
    limit: 50,
  });
  const newest = found(revisions[0], "routine");
  return {
    id: routine.id,
    version: newest.number,
    content: newest.content,
    versions: revisions.map(({ number, createdAt, content }) => ({
      number,
      at: (createdAt ?? new Date()).toISOString(),
      title: content.title,
      blocks: content.blocks.length,
    })),
  };
}

/** An older version as it was, to look at and to go back to. */
export async function routineVersion(
  actor: Actor,
  routineId: string,
  number: number,
): Promise<{ content: RoutineContentType }> {
  const { bandId } = director(actor);
  const revision = found(await RoutineRevision.findOne({ where: { routineId, bandId, number } }), "version");
  return { content: revision.content };
}

/**
 * Keeps a changed routine as its next version. What is the same makes none.
 * @throws ServiceError conflict when somebody saved a newer version in between
 */
export async function saveRoutine(
  actor: Actor,
  routineId: string,
  { basedOn, content }: z.output<typeof SaveRoutine>,
): Promise<{ version: number }> {
  const who = director(actor);
  const { version, content: before } = await routineDetail(who, routineId);
  if (version !== basedOn)
    throw new ServiceError(
      "conflict",
      `This routine was changed in between: it is at version ${version}. Reload it, or keep yours as a copy.`,
    );
  if (JSON.stringify(before) === JSON.stringify(content)) return { version };
  await onlyOwnGroups(who.bandId, content);
  await database().transaction(async (transaction) => {
    await RoutineRevision.create(
      { id: uuid(), bandId: who.bandId, routineId, number: version + 1, content },
      { transaction },
    );
    await Routine.update(
      { title: content.title },
      { where: { id: routineId, bandId: who.bandId }, transaction },
    );
    await audit(who, "save-routine", routineId, transaction);
  });
  return { version: version + 1 };
}

/** Takes a routine off the shelf, or puts it back. */
export async function setRoutineRemoved(actor: Actor, routineId: string, removed: boolean): Promise<void> {
  const who = director(actor);
  const routine = found(await Routine.findOne({ where: { id: routineId, bandId: who.bandId } }), "routine");
  await database().transaction(async (transaction) => {
    await routine.update({ removedAt: removed ? new Date() : null }, { transaction });
    await audit(who, removed ? "remove-routine" : "restore-routine", routineId, transaction);
  });
}

/** Kinds of players in the band, with the groups they are in: what a routine is checked against. */
export async function bandSeats(actor: Actor): Promise<BandSeat[]> {
  const { bandId } = director(actor);
  const [seats, members, knowledge] = await Promise.all([
    seatsOfBand(bandId),
    membersOfBand(bandId),
    bandKnowledge(bandId),
  ]);
  const groupsOf = groupBy(members, ({ playerId }) => playerId);
  const kinds = new Map<object, Map<string, BandSeat>>();
  for (const { playerId, instrumentId, stage, variant, known } of knowledge.seated(seats)) {
    const groupIds = (groupsOf.get(playerId) ?? []).map(({ groupId }) => groupId);
    const key = `${instrumentId}/${stage}/${variant}/${groupIds}`;
    const ofKnown = kinds.get(known) ?? new Map<string, BandSeat>();
    kinds.set(known, ofKnown);
    const kind = ofKnown.get(key);
    if (kind) kind.players++;
    else
      ofKnown.set(key, {
        instrumentId,
        stage,
        variant,
        groupIds,
        players: 1,
        known: { notes: [...known.notes], rhythms: [...known.rhythms], signs: [...known.signs] },
      });
  }
  return [...kinds.values()].flatMap((ofKnown) => [...ofKnown.values()]);
}

/** One block as one kind of player reads it, engraved. */
export async function previewBlock(
  actor: Actor,
  input: z.output<typeof PreviewBlock>,
  width: EngravingWidth = "wide",
  patient = false,
): Promise<{ part: PartView; score: Score; cutShort: CutShort | null }> {
  const { bandId } = director(actor);
  const instrument = instrumentById(input.instrumentId);
  const player: PlayerKind = { instrument, stage: input.stage, variant: input.variant };
  const { score, cutShort } = built(input.block, input.pieceBpm)(player);
  const part = await partView(score, instrument.id, input.stage, width, {
    variant: input.variant,
    own: await ownFingerings(bandId, instrument.id),
    patient,
  });
  return { part, score, cutShort };
}

/** @throws ServiceError with the nearest block that can be played in its sentence */
function built(block: Block, pieceBpm: number): ReturnType<typeof buildBlock> {
  try {
    return buildBlock(block, pieceBpm);
  } catch (error) {
    if (error instanceof WarmUpError) throw new ServiceError("bad-input", error.message);
    throw error;
  }
}

/** Gives one block of a routine to a group as homework: every player gets their own instrument's and stage's part. */
export async function giveBlock(
  actor: Actor,
  routineId: string,
  { blockId, ...input }: z.output<typeof GiveBlock>,
): Promise<Given> {
  const who = director(actor);
  const { content } = await routineDetail(who, routineId);
  const block = found(
    content.blocks.find((each) => each.id === blockId),
    "block",
  );
  if (block.family === "breathing")
    throw new ServiceError(
      "bad-input",
      "Breathing is done together and seated; there is nothing to record. Give another block.",
    );
  return assignMade(who, input, { kind: "warm-up", routineId }, (seats) => {
    const build = built(block, content.pieceBpm);
    const kinds = new Map(
      seats.map((seat) => {
        const kind = { ...seat, instrument: instrumentById(seat.instrumentId) };
        return [partId(kind), kind] as const;
      }),
    );
    const scores = [...kinds.values()].map((kind) => build(kind).score);
    const [first, ...others] = scores;
    if (!first) throw new ServiceError("bad-input", "There are no players in this group yet.");
    return { ...first, parts: [first.parts[0], ...others.map((score) => score.parts[0])] };
  });
}

/** The routine a given block came from, or the counting page: where its line leads back to. */
export async function originOf(
  actor: Actor,
  lineId: string,
): Promise<{ routineId: string | null; drillId: string | null }> {
  const { bandId } = director(actor);
  const line = found(await Line.findOne({ where: { id: lineId, bandId } }), "line");
  return { routineId: line.routineId, drillId: line.drillId };
}

/** A block as one kind of player reads it on paper. */
interface PrintedBlock {
  block: Block;
  part: PartView;
  cutShort: CutShort | null;
}

/** What is printed of a routine for one kind of player; each block is engraved when the page comes to it. */
export interface RoutineSheet {
  player: { name: string; instrument: string };
  blocks: () => Promise<PrintedBlock[]>;
}

/** What is printed of a routine: a card for the wall, a card for each kind of player, or their parts in full. */
export type RoutinePrint = "wall" | "student" | "set";

/** One sheet for each instrument and stage of a group, in score order; none for the wall. */
export async function printedRoutine(
  actor: Actor,
  routineId: string,
  groupId: string,
  form: RoutinePrint,
): Promise<{ content: RoutineContentType; sheets: RoutineSheet[] }> {
  const who = director(actor);
  const { content } = await routineDetail(who, routineId);
  found(await Group.findOne({ where: { id: groupId, bandId: who.bandId } }), "group");
  if (form === "wall") return { content, sheets: [] };
  const seats = onePerKind((await bandSeats(who)).filter((seat) => seat.groupIds.includes(groupId)));
  const next = oneByOne();
  const blocksFor = async (seat: BandSeat) => {
    const printed: PrintedBlock[] = [];
    for (const block of content.blocks) {
      if (block.mutedFor.includes(groupId)) continue;
      const asked = { ...seat, block, pieceBpm: content.pieceBpm };
      const { part, cutShort } = await next(() => previewBlock(who, asked, "medium", true));
      printed.push({ block, part, cutShort });
    }
    return printed;
  };
  const sheets = seats.sort(byScoreOrder).map((seat): RoutineSheet => {
    const instrument = instrumentById(seat.instrumentId);
    return {
      player: { name: kindName(instrument, seat), instrument: instrument.name },
      blocks: () => blocksFor(seat),
    };
  });
  return { content, sheets };
}

function onePerKind(seats: BandSeat[]): BandSeat[] {
  const key = ({ instrumentId, stage, variant }: BandSeat) => `${instrumentId}/${stage}/${variant}`;
  return [...new Map(seats.map((seat) => [key(seat), seat])).values()];
}

function byScoreOrder(a: BandSeat, b: BandSeat): number {
  return scorePlace(a.instrumentId) - scorePlace(b.instrumentId) || a.stage.localeCompare(b.stage);
}

function kindName(instrument: Instrument, { stage, variant }: BandSeat): string {
  const build = instrument.variants?.find((each) => each.id === variant)?.name;
  return [instrument.name, build, stage.replaceAll("-", " ")].filter(Boolean).join(", ");
}
