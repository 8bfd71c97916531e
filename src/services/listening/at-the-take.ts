import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { ENGINE_VERSION } from "../../core/listen";
import { aboutOf, causesOf, type Overrule, withoutExempt } from "../../core/progress";
import {
  AssessmentRow,
  currentAssessmentId,
  lockTask,
  Media,
  OverruleRow,
  Pin,
  Review,
  Take,
  touchBand,
} from "../../data";
import { database } from "../../server/database";
import { mediaStore } from "../../server/media-store";
import { type Actor, director, found, ServiceError, somebody } from "../actor";
import { audit } from "../audit";
import { keepSound } from "../keep-sound";
import type { PinView } from "../practice/wire";
import { mayHear } from "../settings";
import { whatWasAsked } from "./assessing";
import { type CountedBy, countAnew } from "./counted";
import type { KeepPin, OverruleTake } from "./schema";

/** A word at a note is short, bytes: two minutes of it as WAV. */
export const LARGEST_PIN_SOUND = 15_000_000;
const MOST_PINS = 50;

async function takeOfBand(bandId: string, takeId: string): Promise<Take> {
  return found(await Take.findOne({ where: { id: takeId, bandId } }), "take");
}

/** Keeps a director's word against the engine's, or takes it back; what follows from the take is counted anew. */
export async function overruleTake(
  actor: Actor,
  takeId: string,
  { word, on }: z.output<typeof OverruleTake>,
): Promise<void> {
  const who = director(actor);
  const take = await takeOfBand(who.bandId, takeId);
  await mayHear(who);
  const row = await AssessmentRow.findByPk((await currentAssessmentId(takeId)) ?? "");
  if (!row) throw new ServiceError("conflict", "The bench has not heard this take yet.");
  const by = await whatWasAsked(take);
  const told = toldOf(row, by, word);
  const target = aboutOf(word);
  await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    await lockTask(take.taskId, transaction);
    await OverruleRow.destroy({ where: { takeId, target }, transaction });
    if (on)
      await OverruleRow.create(
        {
          takeId,
          bandId: who.bandId,
          target,
          word,
          toldKind: told.kind,
          places: told.places,
          engineVersion: row.engineVersion ?? ENGINE_VERSION,
          byId: who.userId,
          at: new Date(),
        },
        { transaction },
      );
    const words = (await OverruleRow.findAll({ where: { takeId }, transaction })).map((each) => each.word);
    await countAnew(take, row, by, words, transaction);
    await audit(who, on ? "overrule" : "take-back-overrule", takeId, transaction);
  });
}

/** What the engine had said of what a word is about. @throws ServiceError where there is no such thing in the take */
function toldOf(
  row: AssessmentRow,
  { part, exempt }: CountedBy,
  word: Overrule,
): { kind: string; places: number } {
  const assessment = withoutExempt(row.result, part, exempt);
  if (word.about === "take") return { kind: row.status, places: 1 };
  const causes = causesOf(assessment, part);
  if (word.about === "cause") {
    const cause = causes.find(({ id }) => id === word.causeId);
    if (!cause)
      throw new ServiceError(
        "conflict",
        "The bench heard this take again and tells it otherwise now. Open it anew.",
      );
    return { kind: cause.kind, places: cause.places.length };
  }
  const { noteIndex } = word;
  if (!assessment.notes.some(({ index }) => index === noteIndex))
    throw new ServiceError("bad-input", "There is no such note in this take.");
  const cause = causes.find(({ places }) => places.some((place) => place.noteIndex === noteIndex));
  return { kind: cause?.kind ?? "clean", places: 1 };
}

/** A director's words at a note of a take; with an id they replace those that stand there. */
export async function keepPin(
  actor: Actor,
  takeId: string,
  { id, eventId, text }: z.output<typeof KeepPin>,
): Promise<{ id: string }> {
  const who = director(actor);
  const take = await takeOfBand(who.bandId, takeId);
  await mayHear(who);
  if (id) {
    const pin = found(await Pin.findOne({ where: { id, takeId, bandId: who.bandId } }), "mark");
    await pin.update({ text, at: new Date() });
    await audit(who, "change-pin", takeId);
    return { id };
  }
  const { part } = await whatWasAsked(take);
  const measure = found(
    part.parts[0].measures.find(({ events }) => events.some((event) => event.id === eventId)),
    "note",
  );
  if ((await Pin.count({ where: { takeId } })) >= MOST_PINS)
    throw new ServiceError("quota", `A take has at most ${MOST_PINS} marks.`);
  const pin = await Pin.create({
    id: uuid(),
    bandId: who.bandId,
    takeId,
    byId: who.userId,
    eventId,
    measure: measure.number,
    text,
    at: new Date(),
  });
  await audit(who, "pin-note", takeId);
  return { id: pin.id };
}

async function pinOfBand(bandId: string, pinId: string): Promise<Pin> {
  return found(await Pin.findOne({ where: { id: pinId, bandId } }), "mark");
}

export async function removePin(actor: Actor, pinId: string): Promise<void> {
  const who = director(actor);
  const pin = await pinOfBand(who.bandId, pinId);
  const sound = pin.mediaId ? await Media.findByPk(pin.mediaId) : null;
  await database().transaction(async (transaction) => {
    await pin.destroy({ transaction });
    await sound?.update({ erasedAt: new Date() }, { transaction });
    await audit(who, "remove-pin", pin.takeId, transaction);
  });
  if (sound) await mediaStore().remove(sound.storeKey);
}

/** The same words in the director's voice. */
export async function pinBySound(actor: Actor, pinId: string, bytes: Uint8Array): Promise<void> {
  const who = director(actor);
  const pin = await pinOfBand(who.bandId, pinId);
  const keep = await keepSound(who.bandId, `pins/${who.bandId}/${uuid()}`, bytes);
  const before = pin.mediaId ? await Media.findByPk(pin.mediaId) : null;
  await database().transaction(async (transaction) => {
    await pin.update({ mediaId: await keep(transaction), at: new Date() }, { transaction });
    await before?.update({ erasedAt: new Date() }, { transaction });
    await audit(who, "speak-pin", pin.takeId, transaction);
  });
  if (before) await mediaStore().remove(before.storeKey);
}

/** Where the sound of a mark lies, for the directors, and for the player once the answer was released. */
export async function pinSound(
  actor: Actor,
  pinId: string,
): Promise<{ storeKey: string; contentType: string; bytes: number }> {
  const who = somebody(actor);
  const pin = await pinOfBand(who.bandId, pinId);
  if (who.kind === "player") {
    const take = await Take.findByPk(pin.takeId, { attributes: ["playerId"] });
    const review = await Review.findByPk(pin.takeId, { attributes: ["releasedAt"] });
    if (take?.playerId !== who.playerId || !review?.releasedAt)
      throw new ServiceError("not-found", "This mark does not exist, or it belongs to somebody else.");
  }
  const media = found(pin.mediaId && (await Media.findByPk(pin.mediaId)), "mark");
  return { storeKey: media.storeKey, contentType: media.contentType, bytes: Number(media.bytes) };
}

/** The marks at the notes of some takes, in the order they were made. */
export async function pinsOf(takeIds: readonly string[]): Promise<(PinView & { takeId: string })[]> {
  if (takeIds.length === 0) return [];
  const pins = await Pin.findAll({ where: { takeId: takeIds }, order: ["at", "id"] });
  return pins.map(({ id, takeId, eventId, measure, text, mediaId }) => ({
    id,
    takeId,
    eventId,
    measure,
    text,
    voice: mediaId !== null && mediaId !== undefined,
  }));
}
