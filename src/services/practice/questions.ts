import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { Media, openQuestions, Player, Question, questionsOfTask } from "../../data";
import { database } from "../../server/database";
import { mediaStore } from "../../server/media-store";
import { type Actor, type Director, director, found, player, ServiceError, somebody } from "../actor";
import { audit } from "../audit";
import { dayLabel } from "../calendar";
import { ownTask } from "../giving";
import { keepSound } from "../keep-sound";
import type { AnswerQuestion, AskQuestion } from "./schema";
import type { OpenQuestion, QuestionView } from "./wire";

/** So many may wait for an answer at once. */
const MOST_OPEN = 10;

/**
 * A player asks about a line, or asks to hear it played. Every director of the band sees it: nothing is said between one adult
 * and one child alone. The same id again asks nothing new.
 */
export async function askQuestion(
  actor: Actor,
  taskId: string,
  input: z.output<typeof AskQuestion>,
): Promise<QuestionView[]> {
  const who = player(actor);
  const task = await ownTask(who, taskId);
  const { id, kind, measure, text } = input;
  if (kind === "question" && text === "") throw new ServiceError("bad-input", "Write your question first.");
  const before = await Question.findByPk(id);
  if (before && before.playerId !== who.playerId)
    throw new ServiceError("conflict", "This question could not be sent. Write it again.");
  if (!before) {
    const open = await Question.findAll({
      where: { playerId: who.playerId, answeredAt: null },
      attributes: ["taskId", "kind"],
    });
    if (open.length >= MOST_OPEN)
      throw new ServiceError(
        "quota",
        `${MOST_OPEN} of your questions wait for an answer. Ask again when some are answered.`,
      );
    if (kind === "please-play" && open.some((each) => each.taskId === task.id && each.kind === kind))
      return questionsOf(task.id);
    await Question.create({
      id,
      bandId: who.bandId,
      playerId: who.playerId,
      taskId: task.id,
      kind,
      measure,
      text,
      askedAt: new Date(),
    });
  }
  return questionsOf(task.id);
}

export async function questionsOf(taskId: string): Promise<QuestionView[]> {
  return (await questionsOfTask(taskId)).map(({ askedAt, sound, ...row }) => ({
    ...row,
    sound: Boolean(sound),
    askedLabel: dayLabel(askedAt.toISOString().slice(0, 10)),
  }));
}

/** What the players of the band wait to be told. */
export async function waitingQuestions(actor: Actor): Promise<OpenQuestion[]> {
  const rows = await openQuestions(director(actor).bandId);
  return rows.map(({ askedAt, taskId: _task, ...row }) => ({
    ...row,
    askedLabel: dayLabel(askedAt.toISOString().slice(0, 10)),
  }));
}

/** A director answers; the player reads it on the stand. Answering twice keeps the later words. */
export async function answerQuestion(
  actor: Actor,
  questionId: string,
  { answer }: z.output<typeof AnswerQuestion>,
): Promise<void> {
  const who = director(actor);
  const question = await ofBand(who, questionId);
  await question.update({ answer, answeredBy: who.userId, answeredAt: new Date() });
  await audit(who, "answer-question", questionId);
}

/** A spoken or played answer has at most so many bytes: two minutes and a half of sound that is not compressed. */
export const LARGEST_ANSWER = 15_000_000;

/** A director answers by voice or by playing it; a later answer takes the place of the one before. */
export async function answerBySound(actor: Actor, questionId: string, bytes: Uint8Array): Promise<void> {
  const who = director(actor);
  const question = await ofBand(who, questionId);
  const keep = await keepSound(who.bandId, `answers/${who.bandId}/${uuid()}`, bytes);
  const before = question.answerMediaId ? await Media.findByPk(question.answerMediaId) : null;
  await database().transaction(async (transaction) => {
    await question.update(
      {
        answerMediaId: await keep(transaction),
        answer: question.answer ?? "",
        answeredBy: who.userId,
        answeredAt: new Date(),
      },
      { transaction },
    );
    await before?.update({ erasedAt: new Date() }, { transaction });
    await audit(who, "answer-question", questionId, transaction);
  });
  if (before) await mediaStore().remove(before.storeKey);
}

/** Where the bytes of an answer are, for the directors of the band and the player who asked. */
export async function answerSound(
  actor: Actor,
  questionId: string,
): Promise<{ storeKey: string; contentType: string; bytes: number }> {
  const who = somebody(actor);
  const question = await ofBand(who, questionId);
  if (who.kind === "player" && question.playerId !== who.playerId)
    throw new ServiceError("not-found", "There is no such answer.");
  const media = found(question.answerMediaId && (await Media.findByPk(question.answerMediaId)), "answer");
  return { storeKey: media.storeKey, contentType: media.contentType, bytes: Number(media.bytes) };
}

async function ofBand({ bandId }: Pick<Director, "bandId">, questionId: string): Promise<Question> {
  return found(await Question.findOne({ where: { id: questionId, bandId } }), "question");
}

/** How a player likes to see the stand. */
export async function savePreferences(
  actor: Actor,
  preferences: { large: boolean; leftHanded: boolean },
): Promise<void> {
  const who = player(actor);
  await Player.update({ preferences }, { where: { id: who.playerId, bandId: who.bandId } });
}
