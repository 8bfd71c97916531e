import { instrumentById } from "../../core/music";
import { withoutExempt } from "../../core/progress";
import { derivePart, withTempo } from "../../core/score";
import { LineRevision, Media, openQuestions, sectionBars, Take, takeContext, takesOfTask } from "../../data";
import { type Actor, director, found, ServiceError, somebody } from "../actor";
import { dayLabel } from "../calendar";
import { scoreOfTake, termsOf } from "../giving";
import { exemptNotes } from "../knowledge";
import { engravePart } from "../parts";
import { decidedBy, mayHear } from "../settings";
import { pinsOf } from "./at-the-take";
import { overrulesOf } from "./counted";
import { markingOf } from "./marking";
import { takeRemark } from "./queue";
import { takeSummaries } from "./takes";
import type { TakeDetail } from "./wire";
import { ownWordsOf } from "./words";

export {
  type AssessAnswer,
  type AssessRequest,
  assessStoredTake,
  closeAssessing,
  giveUpOn,
} from "./assessing";
export {
  keepPin,
  LARGEST_PIN_SOUND,
  overruleTake,
  pinBySound,
  pinSound,
  pinsOf,
  removePin,
} from "./at-the-take";
export { bestTakes, needsEar } from "./best";
export { bringTake, bringTasks, LARGEST_BROUGHT } from "./bring";
export { overrulesOf } from "./counted";
export { liveChoices, liveTest } from "./live";
export { moveTake, otherTasks } from "./move";
export { patternView } from "./pattern";
export { claim, heardQueue, listenQueue, queueChoices, takeRemark } from "./queue";
export { eraseOldSounds } from "./retention";
export { acceptTogether, cleanWaiting, releaseReviews, reviewTake, takeBackReview } from "./reviews";
export {
  AcceptTogether,
  AskHeard,
  AskQueue,
  KeepPin,
  MoveTake,
  OverruleTake,
  ReviewTake,
  SaveWords,
} from "./schema";
export { storeTake } from "./store";
export { ownTakeSummary, takeSummaries } from "./takes";
export { ownWords, saveWords } from "./words";

/** One take with everything needed to hear, see and mark it. */
export async function takeDetail(actor: Actor, takeId: string): Promise<TakeDetail> {
  const { bandId } = director(actor);
  const take = found(await takeContext(bandId, takeId), "take");
  await mayHear(director(actor));
  const [revision, [own], all, section, exempt, decided, words, pins, sentences, marking, asked] =
    await Promise.all([
      LineRevision.findByPk(take.revisionId, { attributes: ["score"] }),
      takeSummaries({ id: takeId }),
      takesOfTask(take.taskId),
      sectionBars(bandId, take.revisionId),
      exemptNotes(take.playerId, take.instrumentId),
      decidedBy(bandId),
      overrulesOf([takeId]),
      pinsOf([takeId]),
      ownWordsOf(bandId),
      markingOf(take.taskId),
      openQuestions(bandId, take.taskId),
    ]);
  const instrument = instrumentById(take.instrumentId);
  const { partId, octaveShift: octave } = take;
  const whole = derivePart(found(revision, "line").score, instrument, take.stage, { partId, octave }).score;
  const score = scoreOfTake(whole, take);
  const { test } = termsOf(take);
  const givenFrom = take.givenFirst ?? 0;
  const given = whole.parts[0].measures.slice(
    givenFrom,
    (take.givenLast ?? whole.parts[0].measures.length) + 1,
  );
  const { assessment, leftOutSec } = own!;
  return {
    id: take.takeId,
    taskId: take.taskId,
    playerName: take.playerName,
    instrumentId: instrument.id,
    instrumentName: instrument.name,
    lineId: take.lineId,
    lineTitle: take.lineTitle,
    lineNumber: take.lineNumber,
    page: take.page,
    goalBpm: take.asked?.goalBpm ?? take.goalBpm,
    lowestBpm: take.asked?.lowestBpm ?? null,
    test,
    markedBy: own!.review?.markedBy ?? marking,
    takeNumber: all.findIndex((each) => each.takeId === takeId) + 1,
    takeCount: all.length,
    seconds: take.seconds,
    state: take.state,
    problem: take.problem,
    leftOutSec,
    peaks: take.peaks ?? [],
    svg: await engravePart(withTempo(score, null), "medium"),
    score,
    assessment: assessment && withoutExempt(assessment, score, exempt),
    overrules: words.get(takeId) ?? [],
    pins,
    questions: asked.map(({ askedAt, taskId: _task, ...question }) => ({
      ...question,
      askedLabel: dayLabel(askedAt.toISOString().slice(0, 10)),
    })),
    given: { firstBar: givenFrom, bars: given.map(({ number }) => number) },
    asks: take.asks,
    ownWords: sentences,
    inTuneCents: decided.judging[take.stage].inTuneCents,
    hearFirst: decided.hearFirst,
    review: own!.review,
    takes: all.map((each) => ({
      id: each.takeId,
      recordedAt: new Date(each.recordedAt).toISOString(),
      remark: takeRemark(each),
      decision: each.decision,
    })),
    section: sectionOf(section, whole.parts[0].measures.length),
  };
}

/** Where takes of this line went wrong, by instrument and bar, over the whole band. */
function sectionOf(rows: Awaited<ReturnType<typeof sectionBars>>, measures: number): TakeDetail["section"] {
  const instruments = [...new Set(rows.map((row) => row.instrumentId))];
  return instruments.map((id) => ({
    instrument: instrumentById(id).name,
    bars: Array.from({ length: measures }, (_, index) => {
      const row = rows.find((each) => each.instrumentId === id && each.measureIndex === index);
      return { wrong: row?.wrong ?? 0, takes: row?.takes ?? 0 };
    }),
  }));
}

/** Where the sound of a take lies, for its player and the band's director only. The lossless copy is preferred. */
export async function takeSound(
  actor: Actor,
  takeId: string,
): Promise<{ storeKey: string; contentType: string; bytes: number }> {
  const who = somebody(actor);
  const take = found(await Take.findOne({ where: { id: takeId, bandId: who.bandId } }), "take");
  if (who.kind === "player" && take.playerId !== who.playerId)
    throw new ServiceError("not-found", "This take does not exist, or it belongs to somebody else.");
  if (who.kind === "director") await mayHear(who);
  const media = found(await Media.findByPk(take.canonicalId ?? take.originalId), "recording");
  if (media.erasedAt)
    throw new ServiceError(
      "not-found",
      "The sound of this take was erased, as your band decided for takes of its age.",
    );
  return { storeKey: media.storeKey, contentType: media.contentType, bytes: Number(media.bytes) };
}
