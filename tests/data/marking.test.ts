import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { writeWav } from "../../src/core/audio";
import { instrumentById } from "../../src/core/music";
import { suggestedMarks, USUAL_RUBRIC } from "../../src/core/progress";
import { derivePart, type Score } from "../../src/core/score";
import { AssessmentRow, Assignment, AuditEntry, Job, Review, Take, Task } from "../../src/data";
import { growthView } from "../../src/services/growth";
import {
  AskQueue,
  acceptTogether,
  bringTake,
  cleanWaiting,
  keepPin,
  listenQueue,
  liveChoices,
  liveTest,
  moveTake,
  otherTasks,
  reviewTake,
  takeBackReview,
  takeDetail,
} from "../../src/services/listening";
import { askQuestion, stand, taskDetail } from "../../src/services/practice";
import {
  addTo,
  anotherBand,
  type BandInDatabase,
  bandInDatabase,
  decide,
  give,
  refusal,
  takeOf,
} from "../support/band";
import { line } from "../support/music";
import { spotless } from "../support/verdicts";

let band: BandInDatabase;
beforeAll(async () => {
  band = await bandInDatabase();
});
afterAll(() => band.close());

const tune = line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:2 Eb5:2 | D5:1 C5:1 D5:1 C5:1 | Bb4:4", { title: "Pier" });
const other = line("Bb4:2 D5:2 | C5:2 Eb5:2 | Bb4:4", { title: "Mole" });
const part: Score = derivePart(tune, instrumentById("trumpet"), "small-tunes").score;
const accepted = { decision: "accepted", comment: "", marks: {} } as const;

async function trumpets(names: string[]) {
  const { director, fullBandId } = await anotherBand();
  const players = [];
  for (const name of names) players.push(await addTo(director, name, ["trumpet"]));
  const { assignmentId } = await give(director, tune, fullBandId);
  return { director, fullBandId, players, assignmentId };
}
const clean = () => ({ result: spotless(part) });
const ownRubric = {
  ...USUAL_RUBRIC,
  id: "way-2",
  name: "Solo day",
  levels: ["low", "high"],
  criteria: [
    { id: "notes", word: "Notes", weight: 3, means: [], hears: "notes" as const },
    { id: "own-1", word: "Posture", weight: 1, means: ["slumped", "tall"], hears: null },
  ],
};
const passing = { ...USUAL_RUBRIC, id: "way-3", name: "Pass", school: "pass" as const };

describe("marks", () => {
  it("are by the rubric of the task, stay by it when it changes, and by the band's rule the best or last counts", async () => {
    const { director, players, assignmentId } = await trumpets(["Ada"]);
    await decide(director, { rubrics: [USUAL_RUBRIC, ownRubric] });
    const { terms } = (await Assignment.findByPk(assignmentId))!;
    await Assignment.update({ terms: { ...terms!, rubric: "way-2" } }, { where: { id: assignmentId } });
    const takeId = await takeOf(players[0]!, assignmentId, clean());
    const { markedBy } = await takeDetail(director, takeId);
    expect(markedBy.rubric).toMatchObject({ name: "Solo day", levels: ["low", "high"] });
    const mark = (id: string, marks: Record<string, number>) =>
      reviewTake(director, id, { ...accepted, marks });
    expect(await refusal(mark(takeId, { notes: 3 }))).toContain("changed in between");
    expect(await refusal(mark(takeId, { smile: 1 }))).toContain("changed in between");
    // 3 * 2 + 1 * 1 = 7 of 8 points.
    await mark(takeId, { notes: 2, "own-1": 1 });
    const marked = async () => (await growthView(director)).players[0]!.cells[0]!.mark;
    expect(await marked()).toBe(88);
    await decide(director, { rubrics: [USUAL_RUBRIC] });
    expect(await marked()).toBe(88);
    expect((await takeDetail(director, takeId)).markedBy.rubric.name).toBe("Solo day");
    const own = (await taskDetail(players[0]!, (await stand(players[0]!)).tasks[0]!.id, "medium"))
      .history[0]!;
    expect(own.review!.markedBy!.rubric.criteria[1]!.word).toBe("Posture");
    // A later take is marked by what holds then.
    const later = await takeOf(players[0]!, assignmentId, clean());
    await mark(later, { notes: 2, rhythm: 2 });
    expect(await marked()).toBe(88);
    await decide(director, { redo: "last" });
    expect(await marked()).toBe(50);
  });

  it("take off for what came late, counted from the first take, and never for a redo", async () => {
    const { director, players, assignmentId } = await trumpets(["Ada", "Bo"]);
    await Assignment.update({ dueDate: "2026-11-20" }, { where: { id: assignmentId } });
    await decide(director, { late: { percentPerDay: 10, mostPercent: 25 } });
    const [ada, bo] = players as [(typeof players)[0], (typeof players)[0]];
    const inTime = await takeOf(ada, assignmentId, clean());
    await Take.update({ recordedAt: new Date("2026-11-19T18:00:00Z") }, { where: { id: inTime } });
    const redo = await takeOf(ada, assignmentId, clean());
    const late = await takeOf(bo, assignmentId, clean());
    await Take.update({ recordedAt: new Date("2026-11-22T08:00:00Z") }, { where: { id: late } });
    expect((await takeDetail(director, redo)).markedBy.lateDays).toBe(0);
    expect((await takeDetail(director, late)).markedBy.lateDays).toBe(2);
    for (const id of [redo, late]) await reviewTake(director, id, { ...accepted, marks: { notes: 4 } });
    const { players: rows } = await growthView(director);
    expect(rows.map(({ name, cells }) => [name, cells[0]!.mark])).toEqual([
      ["Ada", 100],
      ["Bo", 80],
    ]);
  });

  it("are none where one passes or not", async () => {
    const { director, players, assignmentId } = await trumpets(["Ada"]);
    await decide(director, { rubrics: [passing] });
    const takeId = await takeOf(players[0]!, assignmentId, clean());
    expect(await refusal(reviewTake(director, takeId, { ...accepted, marks: { notes: 4 } }))).toContain(
      "changed",
    );
    await reviewTake(director, takeId, accepted);
    expect((await growthView(director)).players[0]!.cells[0]).toMatchObject({
      state: "accepted",
      mark: null,
    });
  });

  it("refuse a way to mark that cannot be", async () => {
    const { director } = await anotherBand();
    const saved = (rubrics: object[]) => refusal(decide(director, { rubrics }));
    expect(await saved([])).toContain("one way to mark");
    expect(await saved([{ ...USUAL_RUBRIC, levels: ["one"] }])).toContain("2 to 6 levels");
    expect(await saved([USUAL_RUBRIC, { ...USUAL_RUBRIC, id: "b" }])).toContain("same name");
    const [first] = USUAL_RUBRIC.criteria;
    expect(await saved([{ ...USUAL_RUBRIC, criteria: [first, first] }])).toContain("once");
  });
});

describe("takes in which nothing was found", () => {
  it("are accepted together after samples, not heard by the engine's record, and taken back together", async () => {
    const { director, players, assignmentId } = await trumpets(["A", "B", "C", "D", "E", "F"]);
    await decide(director, { cleanSamples: 2, markTogether: true });
    const ids: string[] = [];
    for (const player of players.slice(0, 5)) ids.push(await takeOf(player, assignmentId, clean()));
    const wrong = await takeOf(players[5]!, assignmentId, {
      result: spotless(part, {
        3: { verdict: "wrong-pitch", playedMidi: 64, kind: "key-signature" } as const,
      }),
    });
    const asks = (await Task.findOne({ where: { playerId: players[4]!.playerId } }))!.id;
    await askQuestion(players[4]!, asks, {
      id: crypto.randomUUID(),
      kind: "question",
      measure: null,
      text: "Why?",
    });
    const ask = AskQueue.parse({ need: "clean" });
    expect((await listenQueue(director, ask)).items.map(({ takeId }) => takeId).sort()).toEqual(
      ids.slice(0, 4).sort(),
    );
    const together = (takeIds: string[], on = true) => acceptTogether(director, { takeIds, accepted: on });
    expect(await refusal(together(ids.slice(1)))).toContain(
      "Hear 2 of the clean takes first; you have heard 0",
    );
    await reviewTake(director, ids[0]!, accepted);
    // Hearing one that has a finding is no sample.
    await reviewTake(director, wrong, accepted);
    expect(await cleanWaiting(director)).toMatchObject({ samples: 2, heard: 1 });
    await reviewTake(director, ids[1]!, accepted);
    // What has a question or was heard meanwhile is passed over.
    expect(await together([...ids, wrong])).toEqual({ takeIds: expect.arrayContaining([ids[2], ids[3]]) });
    expect(await Review.count({ where: { bandId: director.bandId, unheard: true } })).toBe(2);
    const { review, markedBy } = await takeDetail(director, ids[2]!);
    expect(review!.marks).toEqual(suggestedMarks(markedBy.rubric, spotless(part)));
    expect(await AuditEntry.count({ where: { bandId: director.bandId, action: "accept-together" } })).toBe(2);
    // Taken back: those that were accepted together, and not the samples.
    const back = await together(ids, false);
    expect(back.takeIds.sort()).toEqual([ids[2], ids[3]].sort());
    expect((await cleanWaiting(director)).takeIds.sort()).toEqual([ids[2], ids[3]].sort());
    const { director: stranger } = await anotherBand();
    expect(await refusal(acceptTogether(stranger, { takeIds: ids, accepted: true }))).toContain(
      "does not exist",
    );
  });

  it("leave a test to be heard", async () => {
    const { director, players, assignmentId } = await trumpets(["A"]);
    const { terms } = (await Assignment.findByPk(assignmentId))!;
    await Assignment.update({ terms: { ...terms!, test: true } }, { where: { id: assignmentId } });
    await takeOf(players[0]!, assignmentId, clean());
    expect((await cleanWaiting(director)).takeIds).toEqual([]);
  });
});

describe("a take that was another line", () => {
  it("is moved to that line's task, heard anew, and leaves its own as it was before", async () => {
    const { director, fullBandId, players, assignmentId } = await trumpets(["Ada", "Bo"]);
    const [ada, bo] = players as [(typeof players)[0], (typeof players)[0]];
    const mole = await give(director, other, fullBandId);
    const takeId = await takeOf(ada, assignmentId, { status: "no-match" });
    const [choice] = await otherTasks(director, takeId);
    expect(choice).toMatchObject({ lineTitle: "Mole", state: "open" });
    const bos = (await Task.findOne({ where: { assignmentId: mole.assignmentId, playerId: bo.playerId } }))!;
    expect(await refusal(moveTake(director, takeId, bos.id))).toContain("does not exist");
    await reviewTake(director, takeId, accepted);
    expect(await refusal(moveTake(director, takeId, choice!.taskId))).toContain("Take it back first");
    await takeBackReview(director, takeId);
    await moveTake(director, takeId, choice!.taskId);
    expect(await Take.findByPk(takeId)).toMatchObject({ taskId: choice!.taskId, state: "waiting" });
    expect(await AssessmentRow.count({ where: { takeId } })).toBe(0);
    expect((await stand(ada)).tasks.map(({ lineTitle, state }) => [lineTitle, state]).sort()).toEqual([
      ["Mole", "sent"],
      ["Pier", "open"],
    ]);
    expect((await listenQueue(director)).items).toMatchObject([{ takeId, lineTitle: "Mole" }]);
    expect(await Job.count({ where: { subjectId: takeId, state: "waiting" } })).toBe(1);
    await moveTake(director, takeId, choice!.taskId);
  });

  it("stays where marks stand at its notes", async () => {
    const { director, fullBandId, players, assignmentId } = await trumpets(["Ada"]);
    await give(director, other, fullBandId);
    const takeId = await takeOf(players[0]!, assignmentId, clean());
    const eventId = (await takeDetail(director, takeId)).score.parts[0].measures[0]!.events[0]!.id;
    await keepPin(director, takeId, { eventId, text: "here" });
    const [choice] = await otherTasks(director, takeId);
    expect(await refusal(moveTake(director, takeId, choice!.taskId))).toContain("marks at its notes");
  });
});

describe("a take asked for anew otherwise", () => {
  it("is practised, sent and heard by the new tempo and bars, until it is accepted", async () => {
    const { director, players, assignmentId } = await trumpets(["Ada"]);
    const [ada] = players as [(typeof players)[0]];
    const takeId = await takeOf(ada, assignmentId, clean());
    const again = (asks: object | null) =>
      reviewTake(director, takeId, { decision: "again", comment: "", marks: {}, asks: asks as never });
    expect(await refusal(again({ goalBpm: null, bars: { firstBar: 2, lastBar: 9 } }))).toContain(
      "not among those",
    );
    await again({ goalBpm: 60, bars: { firstBar: 1, lastBar: 2 } });
    const [task] = (await stand(ada)).tasks;
    expect(task).toMatchObject({ state: "again", goalBpm: 60, recordBars: "bars 2 to 3" });
    const detail = await taskDetail(ada, task!.id, "medium");
    expect(detail.recordScore.parts[0].measures).toHaveLength(2);
    expect(detail.rungs).toEqual([60]);
    const sound = writeWav({ samples: new Float32Array(4000).fill(0.1), sampleRate: 8000 });
    const brought = await bringTake(director, task!.id, new Date(), sound);
    expect(await Take.findByPk(brought.takeId)).toMatchObject({
      firstBar: 1,
      lastBar: 2,
      asked: { goalBpm: 60 },
    });
    expect((await listenQueue(director, AskQueue.parse({ need: "anew" }))).total).toBe(1);
    await reviewTake(director, brought.takeId, accepted);
    expect((await stand(ada)).tasks[0]).toMatchObject({ goalBpm: 80, recordBars: null });
  });

  it("says nothing while the answer is held back", async () => {
    const { director, players, assignmentId } = await trumpets(["Ada"]);
    const takeId = await takeOf(players[0]!, assignmentId, clean());
    await decide(director, { release: "together" });
    await reviewTake(director, takeId, {
      decision: "again",
      comment: "",
      marks: {},
      asks: { goalBpm: 60, bars: null },
    });
    expect((await stand(players[0]!)).tasks[0]).toMatchObject({ state: "sent", goalBpm: 80 });
  });
});

describe("hearing a line in class", () => {
  it("has everybody's part to judge by in score order, and the rubric; nothing of it for another band", async () => {
    const { director, fullBandId, players, assignmentId } = await trumpets(["Bo", "Ada"]);
    await addTo(director, "Fia", ["flute"], "small-tunes", [fullBandId]);
    const given = await give(director, other, fullBandId);
    await reviewTake(director, await takeOf(players[0]!, assignmentId, clean()), accepted);
    const choices = await liveChoices(director);
    expect(choices.map(({ lineTitle, players: all, left }) => [lineTitle, all, left]).sort()).toEqual([
      ["Mole", 3, 3],
      ["Pier", 3, 2],
    ]);
    const live = await liveTest(director, given.assignmentId);
    expect(live.players.map(({ name, instrument }) => [name, instrument])).toEqual([
      ["Fia", "Flute"],
      ["Ada", "Trumpet"],
      ["Bo", "Trumpet"],
    ]);
    // Two trumpets of one stage play one part; each is judged as its stage is.
    expect(Object.keys(live.parts)).toHaveLength(2);
    const own = live.parts[live.players[1]!.part]!;
    expect(own.options).toMatchObject({ bpm: 80, instrumentId: "trumpet" });
    expect(own.svg).toContain("<svg");
    expect(live.rubric.name).toBe("The usual");
    const { director: stranger } = await anotherBand();
    expect(await refusal(liveTest(stranger, given.assignmentId))).toContain("does not exist");
    expect(await liveChoices(stranger)).toEqual([]);
  });
});
