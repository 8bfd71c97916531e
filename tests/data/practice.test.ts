import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { z } from "zod";
import { addDays } from "../../src/core/calendar";
import { pathOf, standingOf } from "../../src/core/practice";
import { PracticeFact, Task } from "../../src/data";
import type { Director, PlayerActor } from "../../src/services/actor";
import { today } from "../../src/services/calendar";
import { playerPage } from "../../src/services/growth";
import {
  answerQuestion,
  askQuestion,
  KeepPractice,
  keepPractice,
  practiceView,
  savePreferences,
  stand,
  taskDetail,
  waitingQuestions,
} from "../../src/services/practice";
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

const TUNE = line("Bb4:1 C5:1 D5:2 | Eb5:2 D5:2 | C5:2 D5:2 | Bb4:4");
const NOW = today("Europe/Lisbon");

interface Home {
  director: Director;
  ada: PlayerActor;
  bo: PlayerActor;
  taskId: string;
  assignmentId: string;
}

async function home(): Promise<Home> {
  const { director, fullBandId } = await anotherBand();
  const ada = await addTo(director, "Ada", ["trumpet"], "small-tunes");
  const bo = await addTo(director, "Bo", ["flute"]);
  const { assignmentId } = await give(director, TUNE, fullBandId, { title: "Tide", number: 3 });
  const task = (await Task.findOne({ where: { playerId: ada.playerId, assignmentId } }))!;
  return { director, ada, bo, taskId: task.id, assignmentId };
}

type Input = z.input<typeof KeepPractice>["facts"][number];
let ticks = 0;
const did = (taskId: string, leg: string, more: Partial<Input> = {}): Input =>
  ({
    id: uuid(),
    at: new Date(Date.now() - 60_000 + ticks++).toISOString(),
    seconds: 30,
    taskId,
    kind: "did",
    leg,
    ...more,
  }) as Input;
const keep = (who: PlayerActor, facts: Input[], sentAt = new Date().toISOString()) =>
  keepPractice(who, KeepPractice.parse({ playerId: who.playerId, sentAt, facts }));

describe("what a device did", () => {
  it("is kept once, however often and in whatever order it is handed over", async () => {
    const { ada, taskId } = await home();
    const facts = [did(taskId, "listen"), did(taskId, "look"), did(taskId, "count")];
    await keep(ada, facts);
    await Promise.all([keep(ada, [...facts].reverse()), keep(ada, facts), keep(ada, [facts[1]!])]);
    const { practice, score } = await taskDetail(ada, taskId, "phone");
    expect(practice.facts.map((fact) => fact.leg)).toEqual(["listen", "look", "count"]);
    const path = pathOf(score, {
      steps: null,
      material: "line",
      goalBpm: 80,
      rungs: [80],
      records: true,
      accompanied: true,
      fingered: true,
      snags: [],
      lastTake: null,
      order: practice.order,
      tongueFirst: practice.tongueFirst,
      readFirst: practice.readFirst,
    });
    // Another device goes on where this one stopped.
    expect(path[standingOf(path, practice.facts, practice.today).leg]!.step).toBe("finger");
  });

  it("is not written for a line of somebody else, and does not hold up the rest", async () => {
    const { ada, bo, taskId } = await home();
    const [mine, theirs] = [did(taskId, "listen"), did(taskId, "look")];
    const refused = await keep(bo, [
      theirs,
      { ...did(taskId, "x"), kind: "goal", text: "mine", taskId: null } as Input,
    ]);
    expect(refused.refused.map(({ id }) => id)).toEqual([theirs.id]);
    expect(refused.kept).toHaveLength(1);
    await keep(ada, [mine]);
    // What one child did is not taken from another who has signed in at the device meanwhile.
    await expect(
      keepPractice(
        bo,
        KeepPractice.parse({
          playerId: ada.playerId,
          sentAt: new Date().toISOString(),
          facts: [did(taskId, "look")],
        }),
      ),
    ).rejects.toThrow("Somebody else is signed in");
    // The same id from another child changes nothing of it.
    await keep(bo, [{ ...mine, taskId: null, kind: "goal", text: "stolen" } as unknown as Input]);
    expect((await PracticeFact.findByPk(mine.id))!.playerId).toBe(ada.playerId);
    expect((await PracticeFact.findByPk(mine.id))!.kind).toBe("did");
  });

  it("comes on its right day though the clock of the device is a day off", async () => {
    const { ada, taskId } = await home();
    for (const offMs of [-86_400_000, 86_400_000]) {
      const wrong = (ms: number) => new Date(Date.now() + offMs + ms).toISOString();
      const { kept } = await keep(ada, [did(taskId, "listen", { at: wrong(-5000) })], wrong(0));
      expect(kept[0]!.day).toBe(NOW);
    }
    const { refused } = await keep(ada, [did(taskId, "look", { at: "2020-01-01T10:00:00.000Z" })]);
    expect(refused[0]!.message).toContain("too long ago");
  });

  it("of a device gone mad fills no table", async () => {
    const { ada } = await home();
    const many = () =>
      Array.from(
        { length: 100 },
        () => ({ ...did("", "x"), taskId: null, kind: "tool", tool: "tuner" }) as unknown as Input,
      );
    for (let turn = 0; turn < 8; turn++) await keep(ada, many());
    const { kept, refused } = await keep(ada, many());
    expect([kept.length, refused.length]).toEqual([0, 100]);
    expect(
      KeepPractice.safeParse({
        playerId: ada.playerId,
        sentAt: new Date().toISOString(),
        facts: Array(101).fill(many()[0]),
      }).success,
    ).toBe(false);
  });
});

describe("the week of a player", () => {
  it("counts days with practice or a take, not takes alone, and a take does not end it", async () => {
    const own = await home();
    const { ada, taskId, assignmentId } = own;
    const before = (await stand(ada)).tasks[0]!;
    expect(before).toMatchObject({ practisedOn: [], state: "open" });
    await keep(ada, [did(taskId, "listen", { seconds: 100 })]);
    expect((await stand(ada)).tasks[0]!.practisedOn).toEqual([]);
    await keep(ada, [did(taskId, "look", { seconds: 100 })]);
    expect((await stand(ada)).tasks[0]!.practisedOn).toEqual([NOW]);
    await takeOf(ada, assignmentId);
    expect((await stand(ada)).tasks[0]).toMatchObject({ practisedOn: [NOW], state: "sent", timesPerWeek: 5 });
    expect((await playerPage(own.director, ada.playerId)).practice).toEqual([
      { day: NOW, seconds: 200, ownMinutes: 0 },
    ]);
    const { log } = await stand(ada);
    expect(log.days.at(-1)).toEqual({ day: NOW, minutes: 3 });
  });

  it("holds what was written down, the goal of the day, tones and tempi", async () => {
    const { ada, taskId } = await home();
    const beside = { taskId: null, seconds: 20 };
    await keep(ada, [
      { ...did("", "x"), ...beside, kind: "own", minutes: 15, text: "at grandma's" } as unknown as Input,
      { ...did("", "x"), ...beside, kind: "goal", text: "bar 3" } as unknown as Input,
      ...[4.2, 7.5, 6].map(
        (heldSec) =>
          ({
            ...did("", "x"),
            ...beside,
            kind: "tone",
            instrumentId: "trumpet",
            note: "C4",
            heldSec,
            pitchSdCents: 5,
            levelSdDb: 1,
            brightnessSpread: 0.1,
          }) as unknown as Input,
      ),
      did(taskId, "ladder", {
        kind: "round",
        place: "whole 0-3",
        bpm: 72,
        outcome: "clean",
      } as Partial<Input>),
      did(taskId, "ladder", {
        kind: "round",
        place: "whole 0-3",
        bpm: 90,
        outcome: "poor",
      } as Partial<Input>),
    ]);
    const view = await practiceView(ada);
    expect(view.entries).toMatchObject([{ minutes: 15, text: "at grandma's", day: NOW }]);
    expect(view.tones).toMatchObject([{ day: NOW, heldSec: 7.5 }]);
    expect(view.tempi).toMatchObject([{ title: "Tide", goalBpm: 80, days: [{ day: NOW, bpm: 72 }] }]);
    const own = await stand(ada);
    expect(own.goal).toBe("bar 3");
    expect(own.log.days.at(-1)!.minutes).toBe(17);
    expect(view.days.at(-1)).toMatchObject({ day: NOW, ownMinutes: 15 });
    expect(addDays(NOW, -60) < view.days[0]!.day).toBe(true);
  });

  it("asks cards of what was taught only, by the own instrument", async () => {
    const { ada } = await home();
    const { cards, instruments } = await practiceView(ada);
    const [trumpet] = instruments;
    const known = trumpet!.chart.filter((note) => note.known).map(({ name }) => name);
    const asked = cards.deck.flatMap((card) => (card.kind === "name" ? [card.note.name] : []));
    expect(asked).toEqual(known);
    expect(asked.length).toBeGreaterThan(3);
    expect(
      cards.deck.some((card) => card.kind === "fingering" && card.note.fingering?.kind === "valves"),
    ).toBe(true);
    const answer = (card: string, rating: string, daysAgo: number) =>
      ({
        ...did("", "x"),
        at: new Date(Date.now() - daysAgo * 86_400_000).toISOString(),
        taskId: null,
        kind: "card",
        card,
        rating,
      }) as unknown as Input;
    await keep(ada, [answer(cards.deck[0]!.id, "easy", 0), answer(cards.deck[1]!.id, "good", 9)]);
    expect((await stand(ada)).cardsDue).toBe(1);
    expect((await practiceView(ada)).cards.states[cards.deck[0]!.id]!.scheduledDays).toBeGreaterThan(3);
  });
});

describe("what a band decides about practising", () => {
  it("reaches the practice of a line", async () => {
    const { director, ada, taskId } = await home();
    await decide(director, {
      whenDone: "no-mistakes",
      putTogether: "backwards",
      firstMeeting: "read",
      slursFirst: "slurred",
      poorTries: 5,
      playingMinutes: null,
    });
    const { practice } = await taskDetail(ada, taskId, "phone");
    expect(practice).toMatchObject({
      rule: { kind: "no-mistakes" },
      order: "backwards",
      readFirst: true,
      tongueFirst: false,
      poorTries: 5,
      playingMinutes: null,
    });
  });

  it("leaves each player the looks of the own stand", async () => {
    const { ada, bo } = await home();
    await savePreferences(ada, { large: true, leftHanded: false });
    expect((await stand(ada)).preferences).toEqual({ large: true, leftHanded: false });
    expect((await stand(bo)).preferences).toEqual({ large: false, leftHanded: false });
  });
});

describe("a question of a player", () => {
  it("goes to every director of the band, once, and its answer comes back", async () => {
    const { director, ada, bo, taskId } = await home();
    const question = { id: uuid(), kind: "question" as const, measure: "3", text: "Is this a D?" };
    await askQuestion(ada, taskId, question);
    await askQuestion(ada, taskId, question);
    const [waiting, ...more] = await waitingQuestions(director);
    expect(more).toEqual([]);
    expect(waiting).toMatchObject({
      playerName: "Ada",
      lineTitle: "Tide",
      measure: "3",
      text: "Is this a D?",
    });
    const { director: stranger } = await anotherBand();
    expect(await waitingQuestions(stranger)).toEqual([]);
    await expect(answerQuestion(stranger, question.id, { answer: "no" })).rejects.toThrow("does not exist");
    await expect(askQuestion(bo, taskId, { ...question, id: uuid() })).rejects.toThrow("does not exist");
    await answerQuestion(director, question.id, { answer: "Yes, with the first valve." });
    expect(await waitingQuestions(director)).toEqual([]);
    expect((await taskDetail(ada, taskId, "phone")).questions[0]).toMatchObject({
      answer: "Yes, with the first valve.",
      answeredBy: "Dita Rector",
    });
  });

  it("asks to hear a line once while it waits, and not without end", async () => {
    const { director, ada, taskId } = await home();
    const play = () => ({ id: uuid(), kind: "please-play" as const, measure: null, text: "" });
    await askQuestion(ada, taskId, play());
    await askQuestion(ada, taskId, play());
    expect(await waitingQuestions(director)).toHaveLength(1);
    for (let i = 0; i < 9; i++)
      await askQuestion(ada, taskId, { id: uuid(), kind: "question", measure: null, text: `${i}` });
    await expect(
      askQuestion(ada, taskId, { id: uuid(), kind: "question", measure: null, text: "one more" }),
    ).rejects.toThrow("wait for an answer");
    await expect(
      askQuestion(ada, taskId, { id: uuid(), kind: "question", measure: null, text: "" }),
    ).rejects.toThrow("Write your question first");
  });
});
