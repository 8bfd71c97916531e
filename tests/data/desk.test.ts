import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { writeWav } from "../../src/core/audio";
import type { Assessment, NoteVerdict } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { tooSlow } from "../../src/core/practice";
import { causesOf, compareTakes, countClean } from "../../src/core/progress";
import { seededRandom } from "../../src/core/rhythm";
import { derivePart, type Score } from "../../src/core/score";
import {
  AssessmentCause,
  AssessmentRow,
  AuditEntry,
  Membership,
  OutboxLetter,
  OverruleRow,
  Take,
  TakeEvidence,
  User,
} from "../../src/data";
import type { Director, PlayerActor } from "../../src/services/actor";
import {
  AskQueue,
  bringTake,
  bringTasks,
  claim,
  heardQueue,
  keepPin,
  listenQueue,
  overruleTake,
  ownWords,
  patternView,
  pinBySound,
  pinSound,
  queueChoices,
  releaseReviews,
  removePin,
  reviewTake,
  saveWords,
  takeDetail,
} from "../../src/services/listening";
import { askQuestion, completeUpload, stand, taskDetail } from "../../src/services/practice";
import {
  addTo,
  anotherBand,
  type BandInDatabase,
  bandInDatabase,
  decide,
  give,
  ranked,
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
const trumpetPart: Score = derivePart(tune, instrumentById("trumpet"), "small-tunes").score;
const accepted = { decision: "accepted", comment: "", marks: {} } as const;
const silence = () => writeWav({ samples: new Float32Array(4000).fill(0.1), sampleRate: 8000 });

/** A band with one trumpet that sent a take of the tune, heard as given. */
async function heard(changes: Record<number, Partial<NoteVerdict>>, more: Partial<Assessment> = {}) {
  const { director, fullBandId } = await anotherBand();
  const player = await addTo(director, "Ada", ["trumpet"]);
  const { assignmentId } = await give(director, tune, fullBandId);
  const takeId = await takeOf(player, assignmentId, { result: spotless(trumpetPart, changes, more) });
  return { director, fullBandId, player, assignmentId, takeId };
}
const current = async (takeId: string) => (await AssessmentRow.findOne({ where: { takeId } }))!;
const counts = async (takeId: string) => {
  const { notesTotal, notesClean, notesWrong, id } = await current(takeId);
  const causes = await AssessmentCause.findAll({ where: { assessmentId: id }, order: ["causeId"] });
  return {
    notes: [notesTotal, notesClean, notesWrong],
    causes: causes.map(({ kind, places }) => [kind, places]),
  };
};
const natural = { verdict: "wrong-pitch", kind: "key-signature", playedMidi: 64 } as const;

describe("a director's word against the engine's", () => {
  it("takes a cause away everywhere it counts, and brings it back as it was", async () => {
    const { director, player, takeId } = await heard({
      3: natural,
      5: natural,
      6: { timing: "late", timingMs: 90 },
    });
    const shown = async () =>
      (await taskDetail(player, (await stand(player)).tasks[0]!.id, "medium")).history[0]!;
    const [cause] = causesOf((await current(takeId)).result, trumpetPart);
    const word = { about: "cause", causeId: cause!.id } as const;
    await overruleTake(director, takeId, { word, on: true });
    expect(await counts(takeId)).toEqual({ notes: [11, 10, 0], causes: [["late", 1]] });
    expect((await listenQueue(director)).items[0]!.remark).toBe("1 finding");
    expect((await takeDetail(director, takeId)).overrules).toEqual([word]);
    // What the engine said stands; the word stands beside it, with what it was about.
    expect(countClean((await current(takeId)).result.notes).wrong).toBe(2);
    expect(await OverruleRow.findOne({ where: { takeId } })).toMatchObject({
      toldKind: "key-signature",
      places: 2,
    });
    // The player sees the word in place of the engine's once there is an answer.
    expect(countClean((await shown()).assessment!.notes).wrong).toBe(2);
    await reviewTake(director, takeId, accepted);
    expect(countClean((await shown()).assessment!.notes).wrong).toBe(0);
    await overruleTake(director, takeId, { word, on: false });
    expect(await counts(takeId)).toEqual({
      notes: [11, 8, 2],
      causes: [
        ["key-signature", 2],
        ["late", 1],
      ],
    });
  });

  it("hears a note wrong that the engine let pass, and a take as a whole aside", async () => {
    const { director, player, takeId } = await heard({ 3: natural });
    const word = { about: "note", noteIndex: 0, word: "wrong" } as const;
    await overruleTake(director, takeId, { word, on: true });
    expect(await counts(takeId)).toMatchObject({ notes: [11, 9, 2] });
    expect(await OverruleRow.findOne({ where: { takeId } })).toMatchObject({ toldKind: "clean" });
    expect(await TakeEvidence.count({ where: { takeId } })).toBeGreaterThan(0);
    await overruleTake(director, takeId, { word: { about: "take" }, on: true });
    expect(await counts(takeId)).toEqual({ notes: [0, 0, 0], causes: [] });
    expect(await TakeEvidence.count({ where: { takeId } })).toBe(0);
    expect((await listenQueue(director)).items[0]!.remark).toBe("by ear");
    await reviewTake(director, takeId, accepted);
    const task = await taskDetail(player, (await stand(player)).tasks[0]!.id, "medium");
    expect(task.history[0]).toMatchObject({ assessment: null, setAside: true });
  });

  it("is refused about what is not there, by a stranger, and before the bench has heard anything", async () => {
    const { director, takeId, player, assignmentId } = await heard({});
    const { director: stranger } = await anotherBand();
    const about = (word: object) => overruleTake(director, takeId, { word: word as never, on: true });
    expect(await refusal(about({ about: "cause", causeId: "key-signature E0 4" }))).toContain(
      "tells it otherwise now",
    );
    expect(await refusal(about({ about: "note", noteIndex: 400, word: "right" }))).toBe(
      "There is no such note in this take.",
    );
    expect(await refusal(overruleTake(stranger, takeId, { word: { about: "take" }, on: true }))).toContain(
      "does not exist",
    );
    const waiting = await takeOf(player, assignmentId, { state: "waiting" });
    expect(await refusal(overruleTake(director, waiting, { word: { about: "take" }, on: true }))).toBe(
      "The bench has not heard this take yet.",
    );
    expect(await OverruleRow.count({ where: { takeId } })).toBe(0);
  });
});

describe("a mark at a note", () => {
  it("is written, spoken, changed and taken away, and reaches its player with the answer", async () => {
    const { director, player, takeId, fullBandId } = await heard({});
    const other = await addTo(director, "Bo", ["trumpet"]);
    const eventId = trumpetPart.parts[0].measures[1]!.events[0]!.id;
    const { id } = await keepPin(director, takeId, { eventId, text: "B flat here." });
    await pinBySound(director, id, silence());
    const mine = async () =>
      (await taskDetail(player, (await stand(player)).tasks[0]!.id, "medium")).history[0]!.pins;
    expect(await mine()).toEqual([]);
    expect(await refusal(pinSound(player, id))).toContain("does not exist");
    await reviewTake(director, takeId, { ...accepted, decision: "again" });
    expect(await mine()).toEqual([
      expect.objectContaining({ measure: "2", text: "B flat here.", voice: true }),
    ]);
    expect((await pinSound(player, id)).contentType).toBe("audio/wav");
    expect(await refusal(pinSound(other, id))).toContain("belongs to somebody else");
    await keepPin(director, takeId, { id, eventId, text: "B flat, please." });
    expect((await takeDetail(director, takeId)).pins.map(({ text }) => text)).toEqual(["B flat, please."]);
    expect(await refusal(keepPin(director, takeId, { eventId: "nowhere", text: "x" }))).toContain(
      "note does not exist",
    );
    await removePin(director, id);
    expect(await mine()).toEqual([]);
    expect(await AuditEntry.count({ where: { bandId: director.bandId, action: "remove-pin" } })).toBe(1);
    expect(fullBandId).toBeTruthy();
  });
});

describe("answers that are held back", () => {
  it("look like nothing to the player until they are released, and then one letter names no child", async () => {
    const { director, player, takeId } = await heard({});
    await decide(director, { release: "together" });
    await reviewTake(director, takeId, { ...accepted, decision: "again", comment: "Once more." });
    const task = async () => (await stand(player)).tasks[0]!;
    expect((await task()).state).toBe("sent");
    const detail = await taskDetail(player, (await task()).id, "medium");
    expect([detail.state, detail.history[0]!.review]).toEqual(["sent", null]);
    // Nor by completing the upload of that take once more.
    expect((await completeUpload(player, takeId)).review).toBeNull();
    expect((await queueChoices(director)).heldBack).toBe(1);
    expect(await heardQueue(director, 0)).toMatchObject([{ takeId, released: false }]);
    const { released, letterId } = await releaseReviews(director);
    expect(released).toBe(1);
    const letter = (await OutboxLetter.findByPk(letterId!))!;
    expect(letter.body).toContain("Pier");
    expect(letter.body).toContain("1 of them to be played once more");
    expect(letter.body).not.toContain("Ada");
    expect((await task()).state).toBe("again");
    expect((await completeUpload(player, takeId)).review).toMatchObject({ comment: "Once more." });
    expect(await releaseReviews(director)).toEqual({ released: 0, letterId: null });
  });
});

describe("what many takes have in common", () => {
  it("is told by section, bar and kind, with who to hear, and the engine's record beside it", async () => {
    const { director, fullBandId } = await anotherBand();
    expect((await patternView(director, null)).line).toBeNull();
    const players = [];
    for (const name of ["Ada", "Bo", "Cy"]) players.push(await addTo(director, name, ["trumpet"]));
    const { assignmentId, lineId } = await give(director, tune, fullBandId);
    const late = { timing: "late", timingMs: 90 } as const;
    const takes = [];
    for (const [i, player] of players.entries())
      takes.push(
        await takeOf(player, assignmentId, {
          result: spotless(trumpetPart, i < 2 ? { 4: natural } : { 1: late }),
          bars: i < 2 ? { 1: 1 } : {},
        }),
      );
    // Counted as the worker does, through a word that is taken back.
    for (const takeId of takes)
      for (const on of [true, false])
        await overruleTake(director, takeId, { word: { about: "note", noteIndex: 9, word: "right" }, on });
    const { line: own, record } = await patternView(director, lineId);
    const [section] = own!.sections;
    expect(section).toMatchObject({ instrumentId: "trumpet", takes: 3 });
    expect(section!.bars.map(({ wrong }) => wrong)).toEqual([0, 2, 0, 0]);
    expect(section!.bars[1]!.examples.map(({ playerName }) => playerName).sort()).toEqual(["Ada", "Bo"]);
    expect(section!.causes).toEqual([
      { kind: "key-signature", takes: 2 },
      { kind: "late", takes: 1 },
    ]);
    expect(record).toEqual([]);
    const { director: stranger } = await anotherBand();
    expect(await refusal(patternView(stranger, lineId))).toContain("does not exist");
  });

  it("counts a finding as not so only where a director said it, and stops suggesting beyond chance", async () => {
    const { director, fullBandId } = await anotherBand();
    const players = [];
    for (let i = 0; i < 6; i++) players.push(await addTo(director, `P${i}`, ["trumpet"]));
    const { assignmentId } = await give(director, tune, fullBandId);
    for (const [i, player] of players.entries()) {
      const takeId = await takeOf(player, assignmentId, { result: spotless(trumpetPart, { 3: natural }) });
      const [cause] = causesOf((await current(takeId)).result, trumpetPart);
      await overruleTake(director, takeId, { word: { about: "cause", causeId: cause!.id }, on: true });
      await reviewTake(director, takeId, accepted);
      const { record, distrusted } = await patternView(director, null);
      expect(record).toEqual([
        { kind: "key-signature", instrumentId: "trumpet", told: i + 1, overruled: i + 1 },
      ]);
      // One or two that were not so may be chance.
      expect(distrusted).toEqual(i < 1 ? [] : i >= 3 ? ["key-signature"] : distrusted);
      expect((await queueChoices(director)).distrusted).toEqual(distrusted);
    }
  });
});

describe("a recording that a director brings", () => {
  it("becomes the player's take once, and is refused where it is none", async () => {
    const { director, fullBandId } = await anotherBand();
    const player = await addTo(director, "Ada", ["trumpet"]);
    await give(director, tune, fullBandId);
    const { director: stranger } = await anotherBand();
    const [task] = await bringTasks(director);
    expect(task).toMatchObject({
      playerName: "Ada",
      lineTitle: "Pier",
      instrumentId: "trumpet",
      state: "open",
    });
    const at = new Date("2026-11-20T10:00:00Z");
    const bring = (bytes: Uint8Array, who: Director = director) => bringTake(who, task!.taskId, at, bytes);
    expect(await refusal(bring(silence(), stranger))).toContain("does not exist");
    expect(await refusal(bring(new Uint8Array(0)))).toBe("This file is empty.");
    expect(await refusal(bring(new TextEncoder().encode("no sound at all, only words")))).toContain(
      "not a sound recording",
    );
    expect(await Take.count({ where: { bandId: director.bandId } })).toBe(0);
    const { takeId, known } = await bring(silence());
    expect(known).toBe(false);
    expect(await bring(silence())).toEqual({ takeId, known: true });
    // Also where the same line was given once more, and the file is meant for that.
    await give(director, tune, fullBandId);
    const again = (await bringTasks(director)).find(({ taskId }) => taskId !== task!.taskId)!;
    expect(await bringTake(director, again.taskId, at, silence())).toEqual({ takeId, known: true });
    expect(await Take.findByPk(takeId)).toMatchObject({
      playerId: player.playerId,
      state: "waiting",
      recordedAt: at,
    });
    expect((await stand(player)).tasks.find(({ id }) => id === task!.taskId)).toMatchObject({
      state: "sent",
      takes: 1,
    });
    expect((await listenQueue(director)).items).toMatchObject([{ takeId, remark: "being listened to" }]);
    expect(await bringTasks(stranger)).toEqual([]);
  });
});

describe("many things at one task at once", () => {
  it("come one after the other, and the best take is that of all of them", async () => {
    const { director, takeId } = await heard({ 3: natural });
    const { taskId } = (await Take.findByPk(takeId))!;
    const sound = (i: number) => writeWav({ samples: new Float32Array(4000).fill(i / 20), sampleRate: 8000 });
    const word = { about: "note", noteIndex: 3, word: "right" } as const;
    await Promise.all([
      ...Array.from({ length: 10 }, (_, i) => bringTake(director, taskId, new Date(), sound(i + 1))),
      ...[true, false, true].map((on) => overruleTake(director, takeId, { word, on })),
    ]);
    expect(await Take.count({ where: { taskId } })).toBe(11);
    // Ten that are still being heard stand behind the one that was.
    expect((await listenQueue(director)).items[0]).toMatchObject({ takeId });
  });
});

describe("words of a band's own", () => {
  it("stand in place of the bench's for that band alone, and give way again", async () => {
    const { director, takeId } = await heard({});
    const other = await heard({});
    await saveWords(director, { place: "advice key-signature", text: "Remember the flat." });
    expect((await takeDetail(director, takeId)).ownWords).toEqual({
      "advice key-signature": "Remember the flat.",
    });
    expect((await takeDetail(other.director, other.takeId)).ownWords).toEqual({});
    await saveWords(director, { place: "advice key-signature", text: "" });
    expect(await ownWords(director)).toEqual({});
  });
});

describe("the queue", () => {
  it("shows the best take of a task by the rule, in the order the database is asked for", async () => {
    const { director, fullBandId } = await anotherBand();
    const random = seededRandom(7);
    const pick = <T>(from: readonly T[]) => from[Math.floor(random() * from.length)]!;
    for (let i = 0; i < 12; i++) {
      const player = await addTo(director, `Player ${i}`, ["horn"]);
      const { assignmentId } = await give(director, tune, fullBandId);
      const takes = [];
      for (let n = 0; n < 4; n++) {
        const total = pick([0, 10, 20]);
        const wrong = Math.floor(random() * (total / 4));
        const clean = total - wrong - Math.floor(random() * (total / 4));
        const state = pick(["assessed", "assessed", "assessed", "waiting", "unreadable"] as const);
        const status = pick(["assessed", "assessed", "no-match"] as const);
        const id = await takeOf(player, assignmentId, { state, status, total, clean, wrong });
        const lowest = pick([null, 60, 100]);
        const at = 1_900_000_000_000 + 1000 * Math.floor(random() * 1000);
        if (lowest) await Take.update({ asked: { lowestBpm: lowest } as never }, { where: { id } });
        await band.db.query("UPDATE takes SET created_at = :at WHERE id = :id", {
          replacements: { id, at: new Date(at) },
        });
        await ranked((await Take.findByPk(id))!.taskId);
        const slow = tooSlow(80, lowest);
        const counted = {
          kind: "counted",
          notes: total,
          wrong,
          uneven: total - clean - wrong,
          slow,
        } as const;
        const rank =
          state === "waiting"
            ? ({ kind: "waiting" } as const)
            : state !== "assessed" || status !== "assessed"
              ? ({ kind: "ear" } as const)
              : total === 0
                ? ({ kind: "by-ear" } as const)
                : counted;
        takes.push({ id, rank, at });
      }
      const best = takes.sort(compareTakes)[0]!;
      const own = (await listenQueue(director)).items.find(({ playerName }) => playerName === `Player ${i}`)!;
      expect(takes.filter((take) => compareTakes(take, best) === 0).map(({ id }) => id)).toContain(
        own.takeId,
      );
    }
  });

  it("is narrowed, ordered and paged, and says how many there are", async () => {
    const { director, fullBandId } = await anotherBand();
    const players: PlayerActor[] = [];
    for (let i = 0; i < 65; i++)
      players.push(
        await addTo(director, `P${String(i).padStart(2, "0")}`, [i % 5 === 0 ? "flute" : "clarinet"]),
      );
    const { assignmentId, lineId } = await give(director, tune, fullBandId);
    for (const [i, each] of players.entries())
      await takeOf(
        each,
        assignmentId,
        i === 64 ? { status: "no-match" } : { clean: 10 - (i % 3), wrong: i % 3 },
      );
    const asked = async (ask: object) => listenQueue(director, AskQueue.parse(ask));
    const first = await asked({ order: "player" });
    expect([first.items.length, first.total, first.needEar]).toEqual([60, 65, 1]);
    const rest = await asked({ order: "player", after: 60 });
    expect([...first.items, ...rest.items].map(({ playerName }) => playerName)).toEqual(
      players.map((_, i) => `P${String(i).padStart(2, "0")}`),
    );
    expect((await asked({})).items[0]!.remark).toBe("not this line");
    expect((await asked({ instrument: "flute" })).total).toBe(13);
    expect((await asked({ need: "ear" })).items.map(({ playerName }) => playerName)).toEqual(["P64"]);
    const task = (await stand(players[3]!)).tasks[0]!;
    await askQuestion(players[3]!, task.id, { id: uuid(), kind: "question", measure: null, text: "How?" });
    expect((await asked({ need: "asked" })).items.map(({ playerName }) => playerName)).toEqual(["P03"]);
    expect((await asked({ line: uuid() })).total).toBe(0);
    expect((await asked({ line: lineId })).total).toBe(65);
    const { instruments } = await queueChoices(director);
    expect(instruments.map(({ id, tasks }) => [id, tasks]).sort()).toEqual([
      ["clarinet", 52],
      ["flute", 13],
    ]);
  }, 60_000);

  it("keeps two directors from hearing one take, until the first is away", async () => {
    const { director, takeId } = await heard({});
    const user = await User.create({
      id: uuid(),
      email: `c${takeId}@band.example`,
      name: "Cleo",
      passwordHash: "x",
    });
    await Membership.create({ bandId: director.bandId, userId: user.id, role: "director", mayHear: true });
    const cleo: Director = { ...director, userId: user.id, name: "Cleo" };
    const { taskId } = (await Take.findByPk(takeId))!;
    expect(await claim(director, taskId)).toEqual({ by: null });
    expect(await claim(cleo, taskId)).toEqual({ by: "Dita Rector" });
    expect((await listenQueue(cleo)).items[0]!.claimedBy).toBe("Dita Rector");
    expect((await listenQueue(director)).items[0]!.claimedBy).toBeNull();
    await band.db.query("UPDATE take_claims SET until = NOW(3) - INTERVAL 1 SECOND WHERE task_id = :taskId", {
      replacements: { taskId },
    });
    expect(await claim(cleo, taskId)).toEqual({ by: null });
    expect(await claim(director, taskId)).toEqual({ by: "Cleo" });
  });
});
