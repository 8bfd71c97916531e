import { addDays } from "../../core/calendar";
import { instrumentById, isBlown, spellMidi } from "../../core/music";
import { cardsDue, rungsOf } from "../../core/practice";
import { overruled, withoutExempt } from "../../core/progress";
import { concertPart, type Purpose, type Score, scoreAsked, vocabularyOf, withTempo } from "../../core/score";
import {
  Assignment,
  Band,
  barNumbersOf,
  directorsOfBand,
  factsOfKind,
  factsOfTask,
  LineRevision,
  lessonsAtHome,
  Player,
  PlayerInstrument,
  practisedDays,
  StripTick,
  stripIsFor,
  stripsOnStand,
  tasksOfPlayer,
} from "../../data";
import type { EngravingWidth } from "../../server/engrave";
import { type Actor, found, type PlayerActor, player, ServiceError } from "../actor";
import { dayLabel, today } from "../calendar";
import { countingPicture, countingSystems } from "../counting";
import { choicesFor, givenNow, ownTask, recordedOf, shownOf, termsOf } from "../giving";
import { exemptNotes, playerKnowledge } from "../knowledge";
import { overrulesOf, pinsOf, takeSummaries } from "../listening";
import { describeNote, ownFingerings, partOf, viewOfPart, withPencil } from "../parts";
import { settingsOf } from "../settings";
import { pencilOf, recordingsOf } from "../shelf";
import { factOf, lineFacts } from "./facts";
import { weekOf } from "./log";
import { nextOffer } from "./own-choice";
import { questionsOf } from "./questions";
import { speaksOfBars, standTask } from "./stand-task";
import { FIRST_STAGES, statesOf } from "./tools";
import type { StandView, TaskDetail } from "./wire";

export { countedIn, keepPractice } from "./facts";
export { chooseLine } from "./own-choice";
export {
  answerBySound,
  answerQuestion,
  answerSound,
  askQuestion,
  LARGEST_ANSWER,
  savePreferences,
  waitingQuestions,
} from "./questions";
export {
  AnswerQuestion,
  AskQuestion,
  BeginUpload,
  ChooseLine,
  KeepPractice,
  SavePreferences,
} from "./schema";
export { sectionSays } from "./section";
export { practiceView } from "./tools";
export { beginUpload, completeUpload, hearAgain, putChunk, QUOTAS, sweepUploads } from "./uploads";
export { CHUNK_BYTES } from "./wire";

/** A player's tasks: what is asked again first, then open ones by due date, then what is done. */
export async function stand(actor: Actor): Promise<StandView> {
  const who = player(actor);
  const [row, rows, own, facts] = await Promise.all([
    Band.findByPk(who.bandId),
    tasksOfPlayer(who.playerId),
    Player.findByPk(who.playerId, { attributes: ["preferences", "stage"] }),
    factsOfKind(who.playerId, ["card", "goal"], MOST_CARDS),
  ]);
  const band = found(row, "band");
  const { timeZone, name } = band;
  const now = today(timeZone);
  const decided = settingsOf(band);
  const [week, beside, lessons] = await Promise.all([
    weekOf(who.playerId, now, timeZone),
    besideTasks(who, now),
    lessonsAtHome(who.playerId, addDays(now, -DAYS_BACK)),
  ]);
  const numbers = await barNumbersOf(rows.flatMap((row) => (speaksOfBars(row) ? [row.revisionId] : [])));
  const tasks = rows.map((each) => standTask(each, now, numbers, week));
  const urgency = { again: 0, open: 1, sent: 2, accepted: 3 };
  tasks.sort((a, b) => urgency[a.state] - urgency[b.state] || a.dueDate.localeCompare(b.dueDate));
  const next = await nextOffer(who, rows, tasks, band);
  const goal = facts.findLast(({ kind }) => kind === "goal");
  const states = statesOf(facts.map(factOf));
  return {
    playerName: who.name,
    bandName: name,
    today: now,
    tasks,
    preferences: own?.preferences ?? PLAIN_PREFERENCES,
    log: { days: week.days, askMinutes: decided.homeMinutes, by: decided.logBy, sheet: decided.logSheet },
    goal: goal?.day === now ? String(goal.detail.text) : "",
    tunes: rows
      .filter(({ state, toldDone }) => state === "accepted" && !toldDone)
      .slice(0, MOST_TUNES)
      .map(({ id, lineTitle, lineNumber }) => ({ taskId: id, title: lineTitle, number: lineNumber })),
    cardsDue: cardsDue([...states.keys()], states, new Date().toISOString(), MOST_CARDS_A_DAY).length,
    begin: FIRST_STAGES.has(own?.stage ?? "") ? "set-up" : decided.tuneWhen === "before" ? "tuner" : null,
    beside,
    lessons: lessons.map(({ id, date, groupName }) => ({ id, label: `${groupName}, ${dayLabel(date)}` })),
    next: next && { lineId: next.id, title: next.title, number: next.number, page: next.page },
  };
}

/** So many other parts sound with a player's own. */
const MOST_COMPANIONS = 3;
const PLAIN_PREFERENCES = { large: false, leftHanded: false };
/** So many tunes to play for pleasure are offered. */
const MOST_TUNES = 8;
/** So many answers to cards are read at most, and so many cards make two minutes. */
const MOST_CARDS = 4000;
const MOST_CARDS_A_DAY = 20;
/** So many facts of a line are read: more than a term of daily practice. */
const MOST_LINE_FACTS = 1500;

/** So many days back and ahead stands what is to be ticked off day by day. */
const DAYS_BACK = 2;
const DAYS_AHEAD = 6;

async function besideTasks(who: PlayerActor, now: string): Promise<StandView["beside"]> {
  const rows = await stripsOnStand(who.playerId, addDays(now, -DAYS_BACK), addDays(now, DAYS_AHEAD));
  return rows
    .filter(({ date, done }) => date >= now || !done)
    .map(({ stripId, date, kind, title, minutes, note, handoutId, mediaId, address, done }) => ({
      stripId,
      day: date === now ? "today" : dayLabel(date),
      today: date === now,
      kind,
      title,
      minutes,
      note,
      file:
        handoutId && mediaId
          ? { handoutId, form: kind === "worksheet" ? ("sheet" as const) : ("sound" as const) }
          : null,
      address,
      done,
    }));
}

/** A player ticks off what stands on a day, or takes the tick away. */
export async function tickStrip(actor: Actor, stripId: string, done: boolean): Promise<void> {
  const who = player(actor);
  if (!(await stripIsFor(who.playerId, stripId)))
    throw new ServiceError("not-found", "This is not on your stand any more.");
  const tick = { stripId, playerId: who.playerId };
  if (done) await StripTick.upsert({ ...tick, bandId: who.bandId, doneAt: new Date() });
  else await StripTick.destroy({ where: tick });
}

/** One task with the part to play from and everything sent so far. */
export async function taskDetail(actor: Actor, taskId: string, width: EngravingWidth): Promise<TaskDetail> {
  const who = player(actor);
  const task = await ownTask(who, taskId);
  const band = found(await Band.findByPk(who.bandId), "band");
  const [row] = await tasksOfPlayer(who.playerId, task.id);
  const given = found(row, "task");
  const now = today(band.timeZone);
  const view = standTask(
    given,
    now,
    await barNumbersOf(speaksOfBars(given) ? [given.revisionId] : []),
    await weekOf(who.playerId, now, band.timeZone),
  );
  if (view.opensLabel) throw new ServiceError("conflict", `This opens on ${view.opensLabel}.`);
  const assignment = found(await Assignment.findByPk(task.assignmentId), "task");
  const asks = await givenNow(task.id, assignment);
  const terms = termsOf(asks);
  const revision = found(await LineRevision.findByPk(assignment.revisionId), "line");
  const asked = withTempo(revision.score, asks.goalBpm);
  // The part as it was made when the task was given; fingerings are those of the band and of the instrument in hand today.
  const { instrumentId, partId, stage, octaveShift: octave } = task;
  const played = await PlayerInstrument.findOne({
    where: { playerId: who.playerId, instrumentId, toDate: null },
  });
  const instrument = instrumentById(instrumentId);
  const whole = partOf(asked, instrument, stage, { partId, octave });
  const made = { ...whole, score: scoreAsked(whole.score, shownOf(asks)) };
  const knowledge = await playerKnowledge(who.bandId, who.playerId, now);
  const { known } = knowledge.of({ playerId: who.playerId, instrumentId, stage });
  const decided = settingsOf(band);
  const exempt = await exemptNotes(who.playerId, instrumentId);
  const fingerings = {
    variant: played ? played.variant : task.variant,
    own: await ownFingerings(who.bandId, instrumentId),
  };
  const part = await viewOfPart(made, instrument, stage, width, { ...fingerings, asKnown: known });
  const pencil = await pencilOf(who, revision.lineId, instrumentId);
  const counted = scoreAsked(asked, shownOf(asks));
  const { purpose } = counted;
  const cardsOnly =
    decided.cardsFirst &&
    stage === "making-a-sound" &&
    instrument.ranges !== null &&
    purpose === undefined &&
    !revision.score.catalogued;
  const own = found(await Player.findByPk(who.playerId, { attributes: ["preferences"] }), "player");
  const [secondsToday] = await practisedDays(who.playerId, now, now);
  const fifths = made.score.parts[0].measures[0]?.key?.fifths ?? 0;
  const counting = purpose?.kind === "counting" ? await countingOf(who, purpose, counted, width) : null;
  return {
    ...view,
    instrumentId,
    lineId: revision.lineId,
    catalogued: revision.score.catalogued ?? false,
    part: { ...part, svg: withPencil(counting?.svg ?? part.svg, pencil) },
    counting: counting && { forms: counting.forms, system: counting.system },
    score: made.score,
    recordScore: scoreAsked(whole.score, recordedOf(asks)),
    rungs: rungsOf(terms.ladder, asks.goalBpm),
    steps: terms.steps ?? [],
    instruments: (await choicesFor(task, assignment, revision.score)).map((id) => ({
      id,
      name: instrumentById(id).name,
    })),
    pencil,
    recordings: await recordingsOf(who, revision.lineId),
    tolerances: {
      pitchToleranceCents: band.pitchToleranceCents,
      timingToleranceMs: decided.judging[stage].inTimeMs,
      a4Hz: Number(band.a4Hz),
      corrected: decided.corrected,
    },
    inTuneCents: decided.judging[stage].inTuneCents,
    exempt: [...exempt],
    cardsOnly,
    cards: cardsOnly
      ? vocabularyOf(made.score).notes.map((pitch) => describeNote(pitch, instrument, fingerings))
      : [],
    practice: {
      facts: lineFacts((await factsOfTask(who.playerId, task.id, MOST_LINE_FACTS)).map(factOf)),
      today: now,
      stage,
      rule:
        decided.whenDone === "clean-days"
          ? { kind: "clean-days", passes: decided.cleanPasses, days: decided.cleanDays }
          : { kind: decided.whenDone },
      poorTries: decided.poorTries,
      playingMinutes: isBlown(instrument) ? decided.playingMinutes : null,
      secondsToday: secondsToday?.seconds ?? 0,
      order: decided.putTogether,
      tongueFirst: decided.slursFirst === "tongued",
      readFirst: decided.firstMeeting === "read",
      naming: decided.naming,
      known: [...known.notes].map((midi) => describeNote(spellMidi(midi, fifths), instrument, fingerings)),
      companions:
        counted.parts.length > 1
          ? counted.parts.slice(0, MOST_COMPANIONS).map(({ id }) => concertPart(counted, id))
          : [],
    },
    questions: await questionsOf(task.id),
    preferences: own.preferences ?? PLAIN_PREFERENCES,
    heard: {
      by: (await directorsOfBand(who.bandId)).filter((each) => each.mayHear).map(({ name }) => name),
      weeks: decided.retentionWeeks,
    },
    history: await historyOf(task.id, made.score, exempt),
  };
}

/** The takes of a task as their player sees them: with the director's words in place of the engine's, once they are released. */
async function historyOf(
  taskId: string,
  score: Score,
  exempt: ReadonlySet<number>,
): Promise<TaskDetail["history"]> {
  const takes = await takeSummaries({ taskId });
  const shown = takes.filter(({ review }) => review?.released).map(({ id }) => id);
  const [words, pins] = await Promise.all([overrulesOf(shown), pinsOf(shown)]);
  return takes.map((take) => {
    const { assessment, review, id } = take;
    const own = words.get(id) ?? [];
    return {
      ...take,
      review: review?.released ? review : null,
      assessment: assessment && overruled(withoutExempt(assessment, score, exempt), score, own),
      setAside: own.some(({ about }) => about === "take"),
      pins: pins.filter(({ takeId }) => takeId === id),
    };
  });
}

/** What a counting page needs beside its notes: its bars by name, the system it is counted in, and that written under it. */
async function countingOf(
  who: PlayerActor,
  { forms, system }: Extract<Purpose, { kind: "counting" }>,
  score: Score,
  width: EngravingWidth,
): Promise<NonNullable<TaskDetail["counting"]> & { svg: string }> {
  const { systems, chosen } = await countingSystems(who);
  const used = systems.find((each) => each.id === (system ?? chosen)) ?? systems[0]!;
  return { forms, system: used, svg: await countingPicture(who.bandId, score, width, system) };
}
