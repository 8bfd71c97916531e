import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { writeWav } from "../../src/core/audio";
import { PLAIN_TERMS } from "../../src/core/practice";
import { AssessmentRow, Assignment, Media, Task } from "../../src/data";
import type { Director, PlayerActor } from "../../src/services/actor";
import { assign, changeAssignment, keepChosen } from "../../src/services/giving";
import { growthView, playerPage } from "../../src/services/growth";
import { storeLine } from "../../src/services/lines";
import { listenQueue } from "../../src/services/listening";
import {
  answerBySound,
  answerQuestion,
  answerSound,
  askQuestion,
  beginUpload,
  chooseLine,
  keepPractice,
  sectionSays,
  stand,
  taskDetail,
} from "../../src/services/practice";
import { homePages, weekView } from "../../src/services/week";
import {
  addTo,
  anotherBand,
  type BandInDatabase,
  bandInDatabase,
  decide,
  give,
  takeOf,
} from "../support/band";
import { line } from "../support/music";

let band: BandInDatabase;
beforeAll(async () => {
  band = await bandInDatabase();
});
afterAll(() => band.close());

const BOOK = ["Pier", "Buoy", "Gull", "Keel"];

interface Home {
  director: Director;
  fullBandId: string;
  ada: PlayerActor;
  bo: PlayerActor;
  assignmentId: string;
  lineIds: string[];
}

/** A book of four lines, the first of which is given. */
async function home(): Promise<Home> {
  const { director, fullBandId } = await anotherBand();
  const ada = await addTo(director, "Ada", ["trumpet"]);
  const bo = await addTo(director, "Bo", ["trumpet"]);
  const lineIds: string[] = [];
  for (const [i, title] of BOOK.entries()) {
    const score = line(["Bb4:4 | C5:4", "C5:4 | D5:4", "D5:4 | Eb5:4", "Eb5:4 | F5:4"][i]!);
    const { lineId } = await storeLine(director.bandId, score, {
      fileName: `${title}.musicxml`,
      title,
      number: i + 1,
      bookTitle: "Harbour Book",
    });
    lineIds.push(lineId);
  }
  const { assignmentId } = await assign(director, {
    lineId: lineIds[0]!,
    groupId: fullBandId,
    goalBpm: 80,
    timesPerWeek: 5,
    dueDate: "2099-01-01",
    note: "",
    sure: ["again", "day-off"],
  });
  return { director, fullBandId, ada, bo, assignmentId, lineIds };
}

const taskOf = async (player: PlayerActor, assignmentId: string) =>
  (await Task.findOne({ where: { playerId: player.playerId, assignmentId } }))!;

async function practised(who: PlayerActor, taskId: string) {
  const at = new Date().toISOString();
  const fact = { id: uuid(), at, seconds: 240, taskId, kind: "did" as const, leg: "listen" };
  await keepPractice(who, { playerId: who.playerId, sentAt: at, facts: [fact] });
}

describe("the next line, by own choice", () => {
  it("is open to who is through, follows the furthest that was given, and is there once", async () => {
    const { ada, assignmentId, lineIds } = await home();
    expect((await stand(ada)).next).toBeNull();
    await expect(chooseLine(ada, { lineId: lineIds[1]! })).rejects.toThrow("First what is asked");
    await practised(ada, (await taskOf(ada, assignmentId)).id);
    expect((await stand(ada)).next).toMatchObject({ title: "Buoy", number: 2 });
    await expect(chooseLine(ada, { lineId: lineIds[3]! })).rejects.toThrow("not the next one");
    const [first, again] = await Promise.all([
      chooseLine(ada, { lineId: lineIds[1]! }),
      chooseLine(ada, { lineId: lineIds[1]! }),
    ]);
    expect(again).toEqual(first);
    expect(await Assignment.count({ where: { chosenBy: ada.playerId } })).toBe(1);
    const after = await stand(ada);
    expect(after.tasks.find(({ chosen }) => chosen)).toMatchObject({ lineTitle: "Buoy", extra: true });
    expect(after.next).toMatchObject({ title: "Gull" });
  });

  it("is nobody else's: not on other stands, not in the week, and no line a group has met", async () => {
    const { director, ada, bo, assignmentId, lineIds } = await home();
    await practised(ada, (await taskOf(ada, assignmentId)).id);
    const { taskId } = await chooseLine(ada, { lineId: lineIds[1]! });
    expect((await stand(bo)).tasks.map(({ lineTitle }) => lineTitle)).toEqual(["Pier"]);
    await expect(taskDetail(bo, taskId, "phone")).rejects.toThrow("does not exist");
    await expect(keepChosen(bo, taskId, false)).rejects.toThrow("does not exist");
    expect((await weekView(director)).items.map(({ lineTitle }) => lineTitle)).toEqual(["Pier"]);
    const { assignmentId: own } = (await Task.findByPk(taskId))!;
    await takeOf(ada, own, { total: 4, clean: 2, wrong: 2 });
    await takeOf(bo, assignmentId, { total: 4, clean: 4 });
    // A worse take of own choice waits behind a clean one that was asked for.
    expect((await listenQueue(director)).items.map(({ lineTitle, chosen }) => [lineTitle, chosen])).toEqual([
      ["Pier", false],
      ["Buoy", true],
    ]);
    const growth = await growthView(director);
    expect(growth.lines.map(({ title }) => title)).toEqual(["Pier"]);
    expect(growth.players.find(({ name }) => name === "Ada")).toMatchObject({ asked: 1, chosen: 1 });
    expect(
      (await playerPage(director, ada.playerId)).tasks.map(({ lineTitle, chosen }) => [lineTitle, chosen]),
    ).toContainEqual(["Buoy", true]);
  });

  it("can be put back and taken again with what was sent; what was given cannot", async () => {
    const { ada, assignmentId, lineIds } = await home();
    const given = await taskOf(ada, assignmentId);
    await practised(ada, given.id);
    const { taskId } = await chooseLine(ada, { lineId: lineIds[1]! });
    await keepChosen(ada, taskId, false);
    expect((await stand(ada)).next).toMatchObject({ title: "Buoy" });
    expect(await chooseLine(ada, { lineId: lineIds[1]! })).toEqual({ taskId });
    await expect(keepChosen(ada, given.id, false)).rejects.toThrow("Your director gave you this one");
  });

  it("is open three times at most, and not at all where the band says so", async () => {
    const { director, ada, assignmentId, lineIds } = await home();
    await practised(ada, (await taskOf(ada, assignmentId)).id);
    for (const lineId of lineIds.slice(1)) await chooseLine(ada, { lineId });
    expect((await stand(ada)).next).toBeNull();
    await decide(director, { ownPace: false });
    await keepChosen(
      ada,
      (await taskOf(ada, (await Assignment.findOne({ where: { chosenBy: ada.playerId } }))!.id)).id,
      false,
    );
    expect((await stand(ada)).next).toBeNull();
    await expect(chooseLine(ada, { lineId: lineIds[1]! })).rejects.toThrow("the director gives the lines");
  });
});

const terms = { ...PLAIN_TERMS, sight: { lookSec: 30 } };
const change = { goalBpm: 80, timesPerWeek: 1, dueDate: "2099-01-01", note: "" };
const announced = (taskId: string) => ({
  id: uuid(),
  taskId,
  bytes: 10,
  sha256: "0".repeat(64),
  recordedAt: new Date().toISOString(),
  gaps: [],
});

describe("a line to be read at sight", () => {
  it("is recorded once, and again only when a director asks", async () => {
    const { director, ada, assignmentId } = await home();
    await changeAssignment(director, assignmentId, { ...change, terms });
    const task = await taskOf(ada, assignmentId);
    expect((await stand(ada)).tasks[0]!.sight).toEqual({ lookSec: 30 });
    await beginUpload(ada, announced(task.id));
    await takeOf(ada, assignmentId, { state: "unreadable" });
    await beginUpload(ada, announced(task.id));
    await takeOf(ada, assignmentId, { total: 4, clean: 3 });
    await expect(beginUpload(ada, announced(task.id))).rejects.toThrow("read this one at sight");
    await Task.update({ state: "again" }, { where: { id: task.id } });
    await beginUpload(ada, announced(task.id));
  });

  it("is told apart from what was practised", async () => {
    const { director, ada, bo, assignmentId } = await home();
    await changeAssignment(director, assignmentId, { ...change, terms });
    await takeOf(ada, assignmentId, { total: 4, clean: 3 });
    const growth = await growthView(director);
    expect(growth.lines).toEqual([]);
    expect(growth.sight[0]!.results.map(({ name, cleanPercent }) => [name, cleanPercent])).toEqual([
      ["Ada", 75],
      [bo.name, null],
    ]);
    expect((await listenQueue(director)).items[0]).toMatchObject({ sight: true });
  });

  it("is not printed before it is read, and goes with nothing it cannot go with", async () => {
    const { director, assignmentId, fullBandId } = await home();
    const due = "2030-03-06";
    await changeAssignment(director, assignmentId, { ...change, dueDate: due, terms, sure: ["day-off"] });
    const { sheets } = await homePages(director, due, fullBandId);
    const printed = sheets.flatMap(({ tasks }) => tasks);
    expect(printed.length).toBeGreaterThan(0);
    expect(printed.every(({ part, note }) => part === null && note.includes("at sight"))).toBe(true);
    for (const wrong of [{ record: { kind: "nothing" as const } }, { steps: ["look" as const] }])
      await expect(
        changeAssignment(director, assignmentId, { ...change, terms: { ...terms, ...wrong } }),
      ).rejects.toThrow("read at sight");
  });
});

describe("an answer that is played or spoken", () => {
  const sound = () => writeWav({ samples: new Float32Array(4000), sampleRate: 8000 });
  it("comes back to who asked, and to nobody else", async () => {
    const { director, ada, bo, assignmentId } = await home();
    const task = await taskOf(ada, assignmentId);
    const question = { id: uuid(), kind: "please-play" as const, measure: null, text: "" };
    await askQuestion(ada, task.id, question);
    await expect(answerSound(ada, question.id)).rejects.toThrow("does not exist");
    await answerQuestion(director, question.id, { answer: "Like this." });
    await answerBySound(director, question.id, sound());
    expect((await taskDetail(ada, task.id, "phone")).questions[0]).toMatchObject({
      answer: "Like this.",
      sound: true,
    });
    const kept = await answerSound(ada, question.id);
    expect(kept.contentType).toContain("wav");
    await expect(answerSound(bo, question.id)).rejects.toThrow("no such answer");
    const { director: stranger } = await anotherBand();
    await expect(answerSound(stranger, question.id)).rejects.toThrow("does not exist");
    await expect(answerBySound(stranger, question.id, sound())).rejects.toThrow("does not exist");
    await expect(answerBySound(director, question.id, new Uint8Array(50))).rejects.toThrow("not a sound");
    // A later answer takes the place of the first, whose sound goes.
    await answerBySound(director, question.id, sound());
    expect((await answerSound(ada, question.id)).storeKey).not.toBe(kept.storeKey);
    expect((await Media.findOne({ where: { storeKey: kept.storeKey } }))!.erasedAt).not.toBeNull();
  });
});

describe("what a section shares", () => {
  it("is told from three takes on, and from those of the own instrument alone", async () => {
    const { director, ada, bo, fullBandId } = await home();
    const cy = await addTo(director, "Cy", ["trumpet"]);
    const dan = await addTo(director, "Dan", ["flute"]);
    const { assignmentId, lineId } = await give(director, line("Bb4:2 D5:2 | C5:2 Bb4:2"), fullBandId);
    const mine = await taskOf(ada, assignmentId);
    const { score } = await taskDetail(ada, mine.id, "phone");
    const [first] = score.parts[0].measures[0]!.events;
    const wrong = async (player: PlayerActor) => {
      const takeId = await takeOf(player, assignmentId, { total: 1, clean: 0, wrong: 1 });
      const row = (await AssessmentRow.findOne({ where: { takeId } }))!;
      const note = {
        index: 0,
        eventId: first!.id,
        measure: "1",
        beat: 1,
        verdict: "wrong-pitch",
        kind: "semitone",
        onset: 1,
        offset: 2,
        playedMidi: 71,
        cents: 0,
        timing: "ok",
        timingMs: 0,
        length: "ok",
        lengthRatio: 1,
        flags: [],
        levelDb: 0,
        confidence: 1,
      };
      const result = row.result as unknown as Record<string, unknown>;
      await row.update({ result: { ...result, notes: [note], extras: [], breaks: [] } as never });
    };
    await wrong(ada);
    await wrong(bo);
    await wrong(dan);
    expect(await sectionSays(ada, mine.id)).toBeNull();
    await wrong(cy);
    expect(await sectionSays(ada, mine.id)).toMatchObject({
      takes: 3,
      of: 3,
      fault: { kind: "played-as", eventIds: [first!.id], semitones: 1 },
    });
    await expect(sectionSays(bo, mine.id)).rejects.toThrow("does not exist");
    // A drill of those bars, given to the section, says it too; one of other bars has nothing to say.
    const drill = (bar: number) =>
      assign(director, {
        lineId,
        groupId: fullBandId,
        only: { instrumentIds: ["trumpet"] },
        goalBpm: 80,
        timesPerWeek: 3,
        dueDate: "2099-01-01",
        firstBar: bar,
        lastBar: bar,
        note: "",
        terms: { ...PLAIN_TERMS, steps: ["ear"], record: { kind: "nothing" } },
        sure: ["again", "day-off"],
      });
    const said = async (bar: number) =>
      sectionSays(ada, (await taskOf(ada, (await drill(bar)).assignmentId)).id);
    expect(await said(0)).toMatchObject({ takes: 3, fault: { kind: "played-as" } });
    expect(await said(1)).toBeNull();
  });
});
