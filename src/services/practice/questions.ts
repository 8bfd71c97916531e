import type { z } from "zod";
import { openQuestions, Player, Question, questionsOfTask } from "../../data";
import { type Actor, director, found, player, ServiceError } from "../actor";
import { audit } from "../audit";
import { dayLabel } from "../calendar";
import { ownTask } from "../giving";
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
  return (await questionsOfTask(taskId)).map(({ askedAt, ...row }) => ({
    ...row,
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
  const question = found(
    await Question.findOne({ where: { id: questionId, bandId: who.bandId } }),
    "question",
  );
  await question.update({ answer, answeredBy: who.userId, answeredAt: new Date() });
  await audit(who, "answer-question", questionId);
}

/** How a player likes to see the stand. */
export async function savePreferences(
  actor: Actor,
  preferences: { large: boolean; leftHanded: boolean },
): Promise<void> {
  const who = player(actor);
  await Player.update({ preferences }, { where: { id: who.playerId, bandId: who.bandId } });
}
