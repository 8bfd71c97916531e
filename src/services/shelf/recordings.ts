import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { Line, LineRecording, Media } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError, somebody } from "../actor";
import { audit } from "../audit";
import { keepSound } from "../keep-sound";
import { lineOpenTo } from "./pencil";
import type { LineRecordingView, SetBars } from "./schema";

/** Largest recording attached to a line, bytes: a long backing track as MP3, or four minutes of WAV. */
export const LARGEST_RECORDING = 40_000_000;

/** Attaches a recording or backing track to a line: bytes first, then the row. */
export async function attachRecording(
  actor: Actor,
  lineId: string,
  name: string,
  bytes: Uint8Array,
): Promise<{ id: string }> {
  const who = director(actor);
  found(await Line.findOne({ where: { id: lineId, bandId: who.bandId } }), "line");
  const id = uuid();
  const keep = await keepSound(who.bandId, `lines/${who.bandId}/${id}`, bytes);
  await database().transaction(async (transaction) => {
    const mediaId = await keep(transaction);
    await LineRecording.create(
      { id, bandId: who.bandId, lineId, mediaId, name: name || "Recording", bars: [] },
      { transaction },
    );
    await audit(who, "attach-recording", id, transaction);
  });
  return { id };
}

/** Recordings of a line for its director, or for a player who was given it. */
export async function recordingsOf(actor: Actor, lineId: string): Promise<LineRecordingView[]> {
  const who = somebody(actor);
  await lineOpenTo(actor, lineId);
  const rows = await LineRecording.findAll({
    where: { lineId, bandId: who.bandId, removedAt: null },
    order: [["id", "ASC"]],
  });
  return rows.map(({ id, name, bars }) => ({ id, name, bars }));
}

/** Keeps the second at which each bar begins, as tapped; an empty list takes the marks away. */
export async function setBars(
  actor: Actor,
  recordingId: string,
  input: z.output<typeof SetBars>,
): Promise<void> {
  const who = director(actor);
  const recording = await ofBand(who, recordingId);
  if (input.bars.some((sec, i) => i > 0 && sec <= input.bars[i - 1]!))
    throw new ServiceError("bad-input", "Bars follow one another in time; tap them again.");
  await recording.update({ bars: input.bars });
}

/** Takes a recording off the line, or puts it back: the sound itself stays, so that this can be undone. */
export async function setRemoved(actor: Actor, recordingId: string, removed: boolean): Promise<void> {
  const who = director(actor);
  const recording = await ofBand(who, recordingId);
  await database().transaction(async (transaction) => {
    await recording.update({ removedAt: removed ? new Date() : null }, { transaction });
    await audit(who, removed ? "remove-recording" : "restore-recording", recordingId, transaction);
  });
}

/** Where the bytes of a recording are, for its director or a player who was given the line. */
export async function recordingSound(
  actor: Actor,
  recordingId: string,
): Promise<{ storeKey: string; contentType: string; bytes: number }> {
  const who = somebody(actor);
  const recording = await ofBand(who, recordingId);
  await lineOpenTo(actor, recording.lineId);
  const media = found(await Media.findByPk(recording.mediaId), "recording");
  return { storeKey: media.storeKey, contentType: media.contentType, bytes: Number(media.bytes) };
}

async function ofBand({ bandId }: { bandId: string }, recordingId: string): Promise<LineRecording> {
  return found(await LineRecording.findOne({ where: { id: recordingId, bandId } }), "recording");
}
