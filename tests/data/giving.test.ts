import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { addDays } from "../../src/core/calendar";
import { PLAIN_TERMS, type Terms } from "../../src/core/practice";
import { Assignment, Take, Task } from "../../src/data";
import type { Director, PlayerActor } from "../../src/services/actor";
import { addGroup, setMembers } from "../../src/services/band";
import { today } from "../../src/services/calendar";
import {
  Assign,
  assign,
  ChangeAssignment,
  changeAssignment,
  chooseInstrument,
  keptWithTake,
  makeUpTest,
  tellDone,
} from "../../src/services/giving";
import { growthView } from "../../src/services/growth";
import { storeLine } from "../../src/services/lines";
import { listenQueue, reviewTake, takeDetail } from "../../src/services/listening";
import { beginUpload, stand, taskDetail } from "../../src/services/practice";
import { remind, weekView } from "../../src/services/week";
import { addTo, anotherBand, type BandInDatabase, bandInDatabase, takeOf } from "../support/band";
import { line } from "../support/music";

let band: BandInDatabase;
beforeAll(async () => {
  band = await bandInDatabase();
});
afterAll(() => band.close());

const NOW = today("Europe/Lisbon");
const DUE = addDays(NOW, 14);
const TUNE = line("[: Bb4:1 C5:1 D5:2 | Eb5:2 D5:2 :] | C5:2 D5:2 | Bb4:4");

interface Group {
  director: Director;
  groupId: string;
  lineId: string;
  flute: PlayerActor;
  clarinet: PlayerActor;
  drummer: PlayerActor;
}

async function group(): Promise<Group> {
  const { director } = await anotherBand();
  const { groupId } = await addGroup(director, { name: "All" });
  const flute = await addTo(director, "Fia", ["flute"], "five-notes", [groupId]);
  const clarinet = await addTo(director, "Cleo", ["clarinet"], "small-tunes", [groupId]);
  const drummer = await addTo(director, "Kofi", ["bells", "snare"], "small-tunes", [groupId]);
  const { lineId } = await storeLine(director.bandId, TUNE, {
    fileName: "test.musicxml",
    title: "Tide",
    number: 4,
  });
  return { director, groupId, lineId, flute, clarinet, drummer };
}

/** As it comes from a form: checked first, then given. */
function give({ director, groupId, lineId }: Group, about: Record<string, unknown> = {}) {
  return assign(
    director,
    Assign.parse({
      groupId,
      lineId,
      goalBpm: 80,
      timesPerWeek: 5,
      dueDate: DUE,
      sure: ["again", "day-off"],
      ...about,
    }),
  );
}

const taskOf = async (who: PlayerActor, assignmentId: string) =>
  (await Task.findOne({ where: { playerId: who.playerId, assignmentId, closedAt: null } }))!;
const change = (given: { assignmentId: string }, { director }: Group, about: Record<string, unknown>) =>
  changeAssignment(
    director,
    given.assignmentId,
    ChangeAssignment.parse({ goalBpm: 80, timesPerWeek: 5, dueDate: DUE, sure: ["day-off"], ...about }),
  );
const detail = async (who: PlayerActor, assignmentId: string) =>
  taskDetail(who, (await taskOf(who, assignmentId)).id, "medium");

describe("terms of what is given", () => {
  it("reach the stand: repeats, tempi, styles, steps, bars to record, minutes", async () => {
    const all = await group();
    const terms: Partial<Terms> = {
      withoutRepeats: true,
      lowestBpm: 70,
      ladder: { fromBpm: 60, stepBpm: 10 },
      styles: [{ firstBar: 2, lastBar: 3, style: "smooth" }],
      steps: ["listen", "count", "record"],
      record: { kind: "bars", firstBar: 2, lastBar: 3 },
      minutes: 4,
    };
    const { assignmentId } = await give(all, { terms });
    const task = await detail(all.clarinet, assignmentId);
    expect(task).toMatchObject({
      lowestBpm: 70,
      rungs: [60, 70, 80],
      steps: ["listen", "count", "record"],
      record: "bars",
      recordBars: "bars 3 to 4",
      minutes: 4,
      test: false,
    });
    expect(task.score.playOnce).toBe(true);
    expect(task.score.parts[0].measures.map(({ style }) => style)).toEqual([
      undefined,
      undefined,
      "smooth",
      "smooth",
    ]);
    expect(task.part.svg).toContain("smooth");
    expect(task.recordScore.parts[0].measures).toHaveLength(2);
    // What is plain is plain: nothing of this is said.
    const plain = await detail(all.clarinet, (await give(all)).assignmentId);
    expect(plain).toMatchObject({ lowestBpm: null, rungs: [80], steps: [], record: "all", recordBars: null });
    expect(plain.recordScore).toEqual(plain.score);
  });

  it.each<[string, Partial<Terms>, RegExp]>([
    ["a lowest tempo over the goal", { lowestBpm: 90 }, /not over the goal/],
    ["a ladder that begins at the goal", { ladder: { fromBpm: 80, stepBpm: 5 } }, /begins under the goal/],
    ["a style of other bars", { styles: [{ firstBar: 0, lastBar: 9, style: "short" }] }, /not asked for/],
    ["a recording of other bars", { record: { kind: "bars", firstBar: 3, lastBar: 9 } }, /among the bars/],
    ["a test that is not heard", { test: true, record: { kind: "nothing" } }, /test is recorded/],
  ])("are refused for %s, with nothing given", async (_why, terms, said) => {
    const all = await group();
    await expect(give(all, { terms })).rejects.toThrow(said);
    expect(await Assignment.count({ where: { bandId: all.director.bandId } })).toBe(0);
  });

  it("are told when they change, and a take keeps how it was asked for", async () => {
    const all = await group();
    const given = await give(all);
    const takeId = await takeOf(all.clarinet, given.assignmentId);
    const before = (await Assignment.findByPk(given.assignmentId))!;
    await Take.update(keptWithTake(before), { where: { id: takeId } });
    const { changedNote } = await change(given, all, {
      goalBpm: 84,
      terms: {
        withoutRepeats: true,
        lowestBpm: 76,
        styles: [{ firstBar: 0, lastBar: 1, style: "short" }],
        extra: true,
      },
    });
    expect(changedNote).toBe(
      "Changed: the goal is 84 bpm now, without the repeats now, takes count from 76 bpm on now, look at how the notes are held, it is extra now.",
    );
    const [task] = (await stand(all.clarinet)).tasks;
    expect(task).toMatchObject({ changedNote, lowestBpm: 76, extra: true, state: "sent" });
    const old = await takeDetail(all.director, takeId);
    expect(old).toMatchObject({ goalBpm: 80, lowestBpm: null });
    expect(old.score.playOnce).toBeUndefined();
    expect(old.score.parts[0].measures.some(({ style }) => style)).toBe(false);
    // Saying nothing of the terms leaves them as they are.
    await change(given, all, { goalBpm: 84 });
    expect((await Assignment.findByPk(given.assignmentId))!.terms).toMatchObject({
      lowestBpm: 76,
      extra: true,
    });
  });

  it("let the better take be one that is fast enough, and say so in the queue", async () => {
    const all = await group();
    const given = await give(all, { terms: { lowestBpm: 90 }, goalBpm: 100 });
    const kept = keptWithTake((await Assignment.findByPk(given.assignmentId))!);
    const slow = await takeOf(all.clarinet, given.assignmentId, { clean: 10 });
    await Take.update(kept, { where: { id: slow } });
    expect((await listenQueue(all.director)).items[0]!.remark).toBe("too slow");
    const fast = await takeOf(all.clarinet, given.assignmentId, { clean: 8, wrong: 2 });
    await Take.update({ ...kept, asked: { ...kept.asked, lowestBpm: 70 } }, { where: { id: fast } });
    expect((await listenQueue(all.director)).items[0]).toMatchObject({ takeId: fast, remark: "2 wrong" });
  });

  it("open on their day: until then they are only announced, and nothing is taken", async () => {
    const all = await group();
    const given = await give(all, { opensOn: addDays(NOW, 3) });
    const [task] = (await stand(all.flute)).tasks;
    expect(task!.opensLabel).not.toBeNull();
    const own = await taskOf(all.flute, given.assignmentId);
    await expect(taskDetail(all.flute, own.id, "medium")).rejects.toThrow(/opens on/);
    await expect(beginUpload(all.flute, upload(own.id))).rejects.toThrow(/opens on/);
    await expect(give(all, { opensOn: addDays(DUE, 1) })).rejects.toThrow(/opens before it is due/);
  });
});

describe("who is to hear from", () => {
  it("leaves out what is extra, and what is not open yet", async () => {
    const all = await group();
    await give(all, { terms: { extra: true } });
    await give(all, { opensOn: addDays(NOW, 3) });
    expect((await weekView(all.director)).missingPlayers).toBe(0);
    await expect(remind(all.director, { sure: true })).rejects.toThrow(/nobody needs a reminder/);
    await give(all, { only: { playerIds: [all.flute.playerId] } });
    expect((await weekView(all.director)).missingPlayers).toBe(1);
  });
});

const upload = (taskId: string) => ({
  id: crypto.randomUUID(),
  taskId,
  bytes: 100,
  sha256: "0".repeat(64),
  recordedAt: new Date().toISOString(),
  gaps: [],
});

describe("whom it is for", () => {
  it("instruments, stages and single players of a group, alone or together", async () => {
    const all = await group();
    const names = async (only: Record<string, unknown>) => {
      const { assignmentId } = await give(all, { only });
      const tasks = await Task.findAll({ where: { assignmentId } });
      const who = {
        [all.flute.playerId]: "flute",
        [all.clarinet.playerId]: "clarinet",
        [all.drummer.playerId]: "drummer",
      };
      return tasks.map(({ playerId }) => who[playerId]).sort();
    };
    expect(await names({ stages: ["small-tunes"] })).toEqual(["clarinet", "drummer"]);
    expect(await names({ instrumentIds: ["flute", "clarinet"] })).toEqual(["clarinet", "flute"]);
    expect(await names({ playerIds: [all.flute.playerId, all.drummer.playerId] })).toEqual([
      "drummer",
      "flute",
    ]);
    await expect(give(all, { only: { stages: ["small-tunes"], instrumentIds: ["flute"] } })).rejects.toThrow(
      /Nobody/,
    );
  });

  it("each with a part of their own where that is said", async () => {
    const all = await group();
    const [first] = TUNE.parts;
    const second = { ...first, id: "P2", name: "Second" };
    const { lineId } = await storeLine(
      all.director.bandId,
      { ...TUNE, parts: [first, second] },
      { fileName: "two.musicxml" },
    );
    const { assignmentId } = await give({ ...all, lineId }, { parts: { [all.clarinet.playerId]: "P2" } });
    expect((await taskOf(all.clarinet, assignmentId)).partId).toBe("P2");
    expect((await taskOf(all.flute, assignmentId)).partId).toBe(first.id);
    await expect(give({ ...all, lineId }, { parts: { [all.clarinet.playerId]: "P9" } })).rejects.toThrow(
      /no such part/,
    );
  });

  it("a percussionist on the instrument chosen, which later changes of people leave alone", async () => {
    const all = await group();
    const { assignmentId } = await give(all);
    const onBells = await taskOf(all.drummer, assignmentId);
    expect((await detail(all.drummer, assignmentId)).instruments.map(({ id }) => id).sort()).toEqual([
      "bells",
      "snare",
    ]);
    expect((await detail(all.flute, assignmentId)).instruments).toHaveLength(1);
    const { taskId } = await chooseInstrument(all.drummer, onBells.id, "snare");
    const { groupId } = await addGroup(all.director, { name: "Low end" });
    await setMembers(all.director, groupId, { playerIds: [all.drummer.playerId] });
    const { tasks } = await stand(all.drummer);
    expect(tasks.map(({ id, instrumentName }) => [id, instrumentName])).toEqual([[taskId, "Snare drum"]]);
    // Back again: the same task as before, with what was sent for it.
    expect((await chooseInstrument(all.drummer, taskId, "bells")).taskId).toBe(onBells.id);
    await expect(chooseInstrument(all.drummer, onBells.id, "flute")).rejects.toThrow(
      /not for that instrument/,
    );
    await expect(chooseInstrument(all.clarinet, onBells.id, "snare")).rejects.toThrow(/does not exist/);
    // Given to bells alone there is nothing to choose.
    const bellsOnly = await give(all, { only: { instrumentIds: ["bells"] } });
    const task = await taskOf(all.drummer, bellsOnly.assignmentId);
    await expect(chooseInstrument(all.drummer, task.id, "snare")).rejects.toThrow(/not for that instrument/);
  });
});

describe("what is not recorded", () => {
  it("is done when its player says so, and takes no recording", async () => {
    const all = await group();
    const { assignmentId } = await give(all, { terms: { record: { kind: "nothing" } } });
    const task = await taskOf(all.flute, assignmentId);
    await expect(beginUpload(all.flute, upload(task.id))).rejects.toThrow(/Nothing is recorded/);
    await tellDone(all.flute, task.id, true);
    expect((await stand(all.flute)).tasks[0]).toMatchObject({ state: "accepted", toldDone: true });
    await tellDone(all.flute, task.id, false);
    expect((await stand(all.flute)).tasks[0]).toMatchObject({ state: "open", toldDone: false });
    await expect(tellDone(all.clarinet, task.id, true)).rejects.toThrow(/does not exist/);
    // What a director accepted is not taken back by its player.
    await task.update({ state: "accepted" });
    await tellDone(all.flute, task.id, false);
    expect((await stand(all.flute)).tasks[0]!.state).toBe("accepted");
    const heard = await taskOf(all.flute, (await give(all)).assignmentId);
    await expect(tellDone(all.flute, heard.id, true)).rejects.toThrow(/send a take/);
  });
});

describe("a playing test", () => {
  it("is marked by its weights, and a make-up counts for it", async () => {
    const all = await group();
    const terms = {
      test: true,
      criteria: [
        { criterion: "notes" as const, weight: 2 },
        { criterion: "rhythm" as const, weight: 1 },
      ],
    };
    const test = await give(all, { terms });
    const mark = (takeId: string, notes: number, rhythm: number) =>
      reviewTake(all.director, takeId, { decision: "accepted", comment: "", marks: { notes, rhythm } });
    await mark(await takeOf(all.flute, test.assignmentId), 4, 1);
    await expect(
      makeUpTest(all.director, (await give(all)).assignmentId, {
        playerIds: [all.clarinet.playerId],
        dueDate: DUE,
      }),
    ).rejects.toThrow(/counts for no test/);
    const later = await makeUpTest(all.director, test.assignmentId, {
      playerIds: [all.clarinet.playerId],
      dueDate: addDays(DUE, 7),
      sure: ["day-off"],
    });
    expect(later.tasks).toBe(1);
    expect((await Assignment.findByPk(later.assignmentId))!.terms).toEqual({ ...PLAIN_TERMS, ...terms });
    await mark(await takeOf(all.clarinet, later.assignmentId), 3, 3);
    const { tests } = await growthView(all.director);
    expect(tests).toHaveLength(1);
    expect(
      tests[0]!.results.map(({ name, mark: reached, madeUp, takeId }) => [
        name,
        reached,
        madeUp,
        takeId !== null,
      ]),
    ).toEqual([
      ["Cleo", 75, true, true],
      ["Fia", 75, false, true],
      ["Kofi", null, false, false],
    ]);
  });
});
