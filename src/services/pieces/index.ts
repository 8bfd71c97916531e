import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { barsByState } from "../../core/plan";
import { Handout, handoutOnStand, Line, Media, PieceRow, raisePlan } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError, somebody } from "../actor";
import { audit } from "../audit";
import { keepFile, keepSound } from "../keep-sound";
import { lineFacts } from "../shelf";
import type { AddAddress, HandoutView, PiecesView, PieceView, SavePiece } from "./schema";

export { AddAddress, SavePiece } from "./schema";

/** Largest worksheet, bytes, and largest recording to listen to. */
export const LARGEST_SHEET = 10_000_000;
export const LARGEST_LISTENING = 40_000_000;
const MOST_PIECES = 500;
const MOST_HANDOUTS = 1000;

/** Pieces with how far their passages are, worksheets, and things to listen to. */
export async function piecesView(actor: Actor): Promise<PiecesView> {
  const { bandId } = director(actor);
  const [pieces, handouts, facts] = await Promise.all([
    piecesOf(bandId),
    handoutsOf(bandId),
    lineFacts(bandId),
  ]);
  return {
    pieces,
    handouts,
    lines: facts.map(({ id, number, title, outline }) => ({
      id,
      name: number === null ? title : `No. ${number} · ${title}`,
      bars: outline.bars,
    })),
  };
}

export async function piecesOf(bandId: string): Promise<PieceView[]> {
  const rows = await PieceRow.findAll({
    where: { bandId, removedAt: null },
    order: [["title", "ASC"]],
    limit: MOST_PIECES,
  });
  return rows.map(({ id, version, title, composer, bars, bpm, lineId, passages }) => ({
    id,
    version,
    title,
    composer,
    bars,
    bpm,
    lineId,
    passages,
    states: barsByState(bars, passages),
  }));
}

export async function handoutsOf(bandId: string): Promise<HandoutView[]> {
  const rows = await Handout.findAll({
    where: { bandId, removedAt: null },
    order: [["title", "ASC"]],
    limit: MOST_HANDOUTS,
  });
  return rows.map(({ id, kind, title, mediaId, address }) => ({
    id,
    kind,
    title,
    form: mediaId === null ? "address" : kind === "worksheet" ? "sheet" : "sound",
    address,
  }));
}

/**
 * Makes a piece, or changes it whole.
 * @param id  made by the browser, so that a lost answer may be sent again
 * @throws ServiceError when somebody else changed it in between
 */
export async function savePiece(
  actor: Actor,
  id: string,
  { version, ...input }: z.output<typeof SavePiece>,
): Promise<{ version: number }> {
  const who = director(actor);
  if (input.lineId) found(await Line.findOne({ where: { id: input.lineId, bandId: who.bandId } }), "line");
  return database().transaction(async (transaction) => {
    await raisePlan(who.bandId, transaction);
    const there = await PieceRow.findByPk(id, { transaction });
    if (there && there.bandId !== who.bandId)
      throw new ServiceError("not-found", "This piece does not exist, or it belongs to another band.");
    if (!there && version !== null)
      throw new ServiceError("not-found", "This piece does not exist any more.");
    if (there && there.version !== version)
      throw new ServiceError(
        "conflict",
        `${there.title} was changed elsewhere in between. Load the page again; what is there now stands.`,
      );
    const next = (there?.version ?? 0) + 1;
    if (there) await there.update({ ...input, version: next, removedAt: null }, { transaction });
    else {
      if (
        (await PieceRow.count({ where: { bandId: who.bandId, removedAt: null }, transaction })) >= MOST_PIECES
      )
        throw new ServiceError("bad-input", `A band has at most ${MOST_PIECES} pieces.`);
      await PieceRow.create({ id, bandId: who.bandId, ...input, version: next }, { transaction });
    }
    await audit(who, "save-piece", id, transaction);
    return { version: next };
  });
}

/** Sets a piece away, or brings it back; programmes and plans keep it. */
export async function setPieceRemoved(actor: Actor, id: string, removed: boolean): Promise<void> {
  const who = director(actor);
  const piece = found(await PieceRow.findOne({ where: { id, bandId: who.bandId } }), "piece");
  await piece.update({ removedAt: removed ? new Date() : null });
  await audit(who, removed ? "remove-piece" : "restore-piece", id);
}

/** Keeps a sheet (PDF) or a recording to listen to: bytes first, then the row. */
export async function addHandout(
  actor: Actor,
  kind: "worksheet" | "listening",
  title: string,
  bytes: Uint8Array,
): Promise<{ id: string }> {
  const who = director(actor);
  await roomForOneMore(who.bandId);
  const id = uuid();
  const name = `handouts/${who.bandId}/${id}`;
  const keep =
    kind === "worksheet"
      ? await keepSheet(who.bandId, name, bytes)
      : await keepSound(who.bandId, name, bytes);
  await database().transaction(async (transaction) => {
    const mediaId = await keep(transaction);
    await Handout.create(
      { id, bandId: who.bandId, kind, title: title || "Untitled", mediaId, address: null },
      { transaction },
    );
    await audit(who, "add-handout", id, transaction);
  });
  return { id };
}

/** A PDF as it is: it is never opened here, only handed on to those it was given to. */
async function keepSheet(bandId: string, name: string, bytes: Uint8Array): ReturnType<typeof keepSound> {
  const head = new TextDecoder("latin1").decode(bytes.subarray(0, 1024));
  if (!head.includes("%PDF-"))
    throw new ServiceError(
      "bad-input",
      "A worksheet is a PDF file. Print the page into a PDF and choose that.",
    );
  return keepFile(bandId, `${name}.pdf`, bytes, "application/pdf");
}

/** Approves an address to listen at. */
export async function addAddress(
  actor: Actor,
  { title, address }: z.output<typeof AddAddress>,
): Promise<{ id: string }> {
  const who = director(actor);
  await roomForOneMore(who.bandId);
  const id = uuid();
  await Handout.create({ id, bandId: who.bandId, kind: "listening", title, mediaId: null, address });
  await audit(who, "add-handout", id);
  return { id };
}

async function roomForOneMore(bandId: string): Promise<void> {
  if ((await Handout.count({ where: { bandId, removedAt: null } })) >= MOST_HANDOUTS)
    throw new ServiceError(
      "bad-input",
      `A band keeps at most ${MOST_HANDOUTS} sheets and recordings. Set some away first.`,
    );
}

export async function setHandoutRemoved(actor: Actor, id: string, removed: boolean): Promise<void> {
  const who = director(actor);
  const handout = found(await Handout.findOne({ where: { id, bandId: who.bandId } }), "sheet or recording");
  await handout.update({ removedAt: removed ? new Date() : null });
  await audit(who, removed ? "remove-handout" : "restore-handout", id);
}

/** Where the bytes of a sheet or recording are: for its director, and for players on whose stand it is. */
export async function handoutFile(
  actor: Actor,
  id: string,
): Promise<{ storeKey: string; contentType: string; bytes: number }> {
  const who = somebody(actor);
  const handout = found(await Handout.findOne({ where: { id, bandId: who.bandId } }), "sheet or recording");
  if (who.kind === "player" && !(await handoutOnStand(who.playerId, id)))
    throw new ServiceError("not-found", "This is not on your stand.");
  const media = found(
    handout.mediaId === null ? null : await Media.findByPk(handout.mediaId),
    "sheet or recording",
  );
  return { storeKey: media.storeKey, contentType: media.contentType, bytes: Number(media.bytes) };
}
