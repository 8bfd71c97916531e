import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { instrumentById } from "../../src/core/music";
import { readMusicXml } from "../../src/core/score";
import { AuditEntry, Take, Task } from "../../src/data";
import type { Director, PlayerActor } from "../../src/services/actor";
import { addGroup, addPlayer, bandOverview } from "../../src/services/band";
import { assign, setWithdrawn } from "../../src/services/giving";
import { growthView } from "../../src/services/growth";
import { listenQueue, reviewTake, takeBackReview } from "../../src/services/listening";
import { stand } from "../../src/services/practice";
import { lineDetail, lineFile, linePart, lineReadiness, listLines } from "../../src/services/shelf";
import { weekView } from "../../src/services/week";
import {
  addTo,
  anotherBand,
  type BandInDatabase,
  bandInDatabase,
  give,
  printedFor,
  queriesOf,
  takeOf,
} from "../support/band";
import { line } from "../support/music";

const tune = line("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 | D5:2 C5:2 | Bb4:4");
const strokes = line("x:1 x:1 x:2 | x:4", { fifths: 0 });

let band: BandInDatabase;
beforeAll(async () => {
  band = await bandInDatabase();
});
afterAll(() => band.close());

/** Every describe works in a band of its own. */
async function ownBand(): Promise<{ director: Director; fullBandId: string }> {
  return anotherBand();
}

describe("giving a line", () => {
  it("makes one task a player: bells for a pitched line, snare for an unpitched one", async () => {
    const { director, fullBandId } = await ownBand();
    const kofi = await addTo(director, "Kofi Two", ["bells", "snare"]);
    const ines = await addTo(director, "Ines One", ["clarinet"]);
    const pitched = await give(director, tune, fullBandId);
    expect(pitched).toMatchObject({ tasks: 2, leftOut: [] });
    const instruments = async (player: PlayerActor) =>
      (await Task.findAll({ where: { playerId: player.playerId }, order: [["id", "ASC"]] })).map(
        (task) => task.instrumentId,
      );
    expect(await instruments(kofi)).toEqual(["bells"]);
    const rhythm = await give(director, strokes, fullBandId);
    expect(rhythm.tasks).toBe(1);
    expect(rhythm.leftOut).toEqual(["1 player of Full Band has no unpitched instrument and was left out"]);
    expect(await instruments(kofi)).toEqual(["bells", "snare"]);
    expect(await instruments(ines)).toEqual(["clarinet"]);
  });

  it("refuses a day that has passed, an empty group and another band's line, and leaves nothing behind", async () => {
    const { director, fullBandId } = await ownBand();
    await addTo(director, "Alone", ["flute"]);
    const { groupId } = await addGroup(director, { name: "Drumline" });
    const [{ id: lineId }] = [
      (await listLines(director))[0] ?? { id: (await give(director, tune, fullBandId)).lineId },
    ];
    const input = {
      lineId,
      groupId: fullBandId,
      goalBpm: 80,
      timesPerWeek: 5,
      dueDate: "2099-01-01",
      note: "",
      sure: ["again" as const],
    };
    const before = await Task.count();
    await expect(assign(director, { ...input, dueDate: "2020-01-01" })).rejects.toThrow(
      "The due date has already passed.",
    );
    await expect(assign(director, { ...input, groupId })).rejects.toThrow(
      "There are no players in Drumline yet.",
    );
    const stranger = (await ownBand()).director;
    await expect(assign(stranger, input)).rejects.toThrow(
      "This group does not exist, or it belongs to another band.",
    );
    expect(await Task.count()).toBe(before);
  });

  it("goes away when it is taken back and comes again with undo", async () => {
    const { director, fullBandId } = await ownBand();
    const player = await addTo(director, "Wren", ["flute"]);
    const { assignmentId } = await give(director, tune, fullBandId);
    await setWithdrawn(director, assignmentId, true);
    expect((await stand(player)).tasks).toEqual([]);
    expect((await weekView(director)).items).toEqual([]);
    await setWithdrawn(director, assignmentId, false);
    expect((await stand(player)).tasks).toHaveLength(1);
  });
});

describe("the week", () => {
  it("counts what waits and who is missing, and names the bar that most takes missed", async () => {
    const { director, fullBandId } = await ownBand();
    const players = await Promise.all(
      ["Ada", "Bo", "Cy", "Dee", "Eli"].map((name) => addTo(director, name, ["trumpet"])),
    );
    const { assignmentId } = await give(director, tune, fullBandId, { number: 34, title: "Net Menders" });
    // Bar 2 goes wrong in three of four takes, bar 4 in one.
    await takeOf(players[0]!, assignmentId, { clean: 7, wrong: 2, bars: { 0: 0, 1: 1, 3: 1 } });
    await takeOf(players[1]!, assignmentId, { clean: 9, wrong: 1, bars: { 0: 0, 1: 2, 3: 0 } });
    const accepted = await takeOf(players[2]!, assignmentId, {
      clean: 9,
      wrong: 1,
      bars: { 0: 0, 1: 1, 3: 0 },
    });
    await takeOf(players[3]!, assignmentId, { status: "too-quiet" });
    await reviewTake(director, accepted, { decision: "accepted", comment: "", marks: {} });
    const week = await weekView(director);
    expect(week).toMatchObject({ waitingTakes: 3, needEar: 1, missingPlayers: 1 });
    expect(week.items[0]).toMatchObject({
      lineNumber: 34,
      tasks: 5,
      waiting: 3,
      accepted: 1,
      again: 0,
      missing: [{ name: "Eli", instrument: "Trumpet" }],
    });
    expect(week.hardest).toMatchObject({
      line: "No. 34",
      bars: 4,
      bar: { index: 1, label: "2", wrong: 3, takes: 3 },
    });
    // A take is named in which it can be heard.
    const heard = await Take.findByPk(week.hardest!.takeId!);
    expect(await Task.count({ where: { id: heard!.taskId, assignmentId } })).toBe(1);
  });

  it("puts what is due first on top and says what is late", async () => {
    const { director, fullBandId } = await ownBand();
    await addTo(director, "Ada", ["trumpet"]);
    await give(director, tune, fullBandId, { title: "Later", dueDate: "2099-05-05" });
    await give(director, tune, fullBandId, { title: "Sooner", dueDate: "2099-01-05" });
    expect(
      (await weekView(director)).items.map((item) => [item.lineTitle, item.dueLabel, item.overdue]),
    ).toEqual([
      ["Sooner", "Mon 5 Jan", false],
      ["Later", "Tue 5 May", false],
    ]);
  });
});

describe("listening", () => {
  it("puts what the bench could not judge first, then the most wrong, then the most uneven", async () => {
    const { director, fullBandId } = await ownBand();
    const names = ["Clean", "Uneven", "Wrong", "Wronger", "Silent", "Unheard"];
    const players = await Promise.all(names.map((name) => addTo(director, name, ["horn"])));
    const { assignmentId } = await give(director, tune, fullBandId);
    await takeOf(players[0]!, assignmentId, { clean: 10 });
    await takeOf(players[1]!, assignmentId, { clean: 7 });
    await takeOf(players[2]!, assignmentId, { clean: 9, wrong: 1 });
    await takeOf(players[3]!, assignmentId, { clean: 6, wrong: 4, bars: { 0: 1, 1: 3 } });
    await takeOf(players[4]!, assignmentId, { status: "no-music" });
    await takeOf(players[5]!, assignmentId, { state: "waiting" });
    const { items: queue } = await listenQueue(director);
    expect(queue.map((item) => [item.playerName, item.remark, item.needsEar])).toEqual([
      ["Silent", "no playing heard", true],
      ["Wronger", "4 wrong", false],
      ["Wrong", "1 wrong", false],
      ["Uneven", "3 uneven", false],
      ["Clean", "clean", false],
      ["Unheard", "being listened to", false],
    ]);
    expect(queue[1]!.bars).toEqual([
      { wrong: 1, untimely: 0 },
      { wrong: 3, untimely: 0 },
    ]);
  });

  it("lets what was heard go from the queue, and undo brings the last one back as it was", async () => {
    const { director, fullBandId } = await ownBand();
    const [first, second] = await Promise.all(["Ada", "Bo"].map((name) => addTo(director, name, ["flute"])));
    const { assignmentId } = await give(director, tune, fullBandId);
    const worse = await takeOf(first!, assignmentId, { clean: 5, wrong: 5 });
    const better = await takeOf(second!, assignmentId);
    await reviewTake(director, worse, {
      decision: "again",
      comment: "Slower, please.",
      marks: { notes: 2 },
    });
    expect((await stand(first!)).tasks[0]!.state).toBe("again");
    expect((await listenQueue(director)).items.map((item) => item.takeId)).toEqual([better]);
    await takeBackReview(director, worse);
    await takeBackReview(director, worse);
    expect((await listenQueue(director)).items.map((item) => item.takeId)).toEqual([worse, better]);
    expect((await stand(first!)).tasks[0]!.state).toBe("sent");
    for (const take of [better, worse])
      await reviewTake(director, take, { decision: "accepted", comment: "", marks: {} });
    expect((await listenQueue(director)).items).toEqual([]);
    const actions = (
      await AuditEntry.findAll({
        where: { bandId: director.bandId, subjectId: worse },
        order: [["id", "ASC"]],
      })
    ).map((entry) => entry.action);
    expect(actions).toEqual(["review-again", "take-back-review", "review-accepted"]);
  });

  it("replaces a word on the same take and keeps the marks of the new one only", async () => {
    const { director, fullBandId } = await ownBand();
    const player = await addTo(director, "Ada", ["flute"]);
    const { assignmentId } = await give(director, tune, fullBandId);
    const take = await takeOf(player, assignmentId);
    await reviewTake(director, take, {
      decision: "again",
      comment: "One more.",
      marks: { notes: 2, rhythm: 1 },
    });
    await reviewTake(director, take, { decision: "accepted", comment: "", marks: { notes: 4 } });
    expect((await growthView(director)).players[0]!.cells[0]).toMatchObject({ state: "accepted", mark: 100 });
  });
});

describe("growth", () => {
  it("counts the best take, its gain over the first and the mark of the last one heard", async () => {
    const { director, fullBandId } = await ownBand();
    const player = await addTo(director, "Ada", ["flute"]);
    await addTo(director, "Zoe", ["tuba"]);
    await addTo(director, "Bo", ["oboe"]);
    const { assignmentId } = await give(director, tune, fullBandId, { number: 9 });
    await give(director, tune, fullBandId, { number: 4 });
    const first = await takeOf(player, assignmentId, { clean: 5, wrong: 3 });
    await reviewTake(director, first, { decision: "again", comment: "", marks: { notes: 2, tone: 3 } });
    await takeOf(player, assignmentId, { clean: 9, wrong: 1 });
    await takeOf(player, assignmentId, { clean: 8, wrong: 1 });
    const growth = await growthView(director);
    expect(growth.lines.map((each) => each.number)).toEqual([4, 9]);
    // Score order from the top: flute, oboe, tuba.
    expect(growth.players.map((row) => row.name)).toEqual(["Ada", "Bo", "Zoe"]);
    expect(growth.players[0]).toMatchObject({
      asked: 2,
      accepted: 0,
      cells: [
        { state: "open", cleanPercent: null, mark: null, takes: 0, gain: null },
        { state: "sent", cleanPercent: 90, mark: 63, takes: 3, gain: 40 },
      ],
    });
  });
});

describe("the stand", () => {
  it("shows what is asked again first, then by day, then what is done", async () => {
    const { director, fullBandId } = await ownBand();
    const player = await addTo(director, "Ada", ["flute"]);
    const done = await give(director, tune, fullBandId, { title: "Done", dueDate: "2099-01-01" });
    const again = await give(director, tune, fullBandId, { title: "Again", dueDate: "2099-03-01" });
    await give(director, tune, fullBandId, { title: "Second", dueDate: "2099-02-02" });
    await give(director, tune, fullBandId, { title: "First", dueDate: "2099-02-01" });
    await reviewTake(director, await takeOf(player, done.assignmentId), {
      decision: "accepted",
      comment: "",
      marks: {},
    });
    await reviewTake(director, await takeOf(player, again.assignmentId), {
      decision: "again",
      comment: "",
      marks: {},
    });
    expect((await stand(player)).tasks.map((task) => [task.lineTitle, task.state])).toEqual([
      ["Again", "again"],
      ["First", "open"],
      ["Second", "open"],
      ["Done", "accepted"],
    ]);
  });

  it("never shows another player's tasks, nor another band's", async () => {
    const { director, fullBandId } = await ownBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    await give(director, tune, fullBandId);
    const stranger = await addTo((await ownBand()).director, "Stranger", ["flute"]);
    expect((await stand(stranger)).tasks).toEqual([]);
    // Who comes later has what is still due, as a task of their own.
    const late = await addTo(director, "Late", ["flute"]);
    const [own, hers] = [(await stand(late)).tasks, (await stand(ada)).tasks];
    expect(own.map((task) => task.lineTitle)).toEqual(hers.map((task) => task.lineTitle));
    expect(own[0]!.id).not.toBe(hers[0]!.id);
  });
});

describe("the band", () => {
  it("takes two children of one name, and says so, however it is written", async () => {
    const { director } = await ownBand();
    await addTo(director, "Ines Haldorsen", ["clarinet"]);
    const again = await addPlayer(director, {
      name: "ines  HALDORSEN",
      instruments: ["flute"],
      stage: "five-notes",
      groupIds: [],
    });
    expect(again.sameName).toBe(true);
    const played = (await bandOverview(director)).players.flatMap((player) => player.instruments);
    expect(played.sort()).toEqual(["clarinet", "flute"]);
  });

  it("puts everyone into Full Band and keeps names of any script and length", async () => {
    const { director } = await ownBand();
    const long = "Þórunn-Ásdís Magnúsdóttir af Næstvedgaard-Šķūtāns ".repeat(2).trim();
    await addTo(director, long, ["bells", "snare"]);
    const overview = await bandOverview(director);
    expect(overview.groups[0]).toMatchObject({ name: "Full Band", players: 1, everyone: true });
    expect(overview.players[0]).toMatchObject({ name: long, groupIds: [overview.groups[0]!.id] });
  });
});

describe("the shelf", () => {
  it("shows key, metre, bars and mark, and how often a line was given", async () => {
    const { director, fullBandId } = await ownBand();
    await addTo(director, "Ada", ["flute"]);
    const { lineId } = await give(
      director,
      line("F5:1 | D5:1 Bb4:1 D5:1 F5:1 | G5:2 F5:1 r:1 | F5:3", { fifths: -3, bpm: 92 }),
      fullBandId,
      { number: 38, title: "Pickup" },
    );
    expect((await listLines(director))[0]).toMatchObject({
      number: 38,
      title: "Pickup",
      concertKey: "E♭ major",
      metre: "4/4",
      bars: 2,
      bpm: 92,
      assigned: 1,
    });
    expect(await lineDetail(director, lineId)).toMatchObject({
      sourceName: "test.musicxml",
      unpitched: false,
    });
  });

  it("engraves every instrument's part in its own key, and says what is new at the stage", async () => {
    const { director, fullBandId } = await ownBand();
    await addTo(director, "Ada", ["flute"]);
    const { lineId } = await give(director, line("Bb4:2 Eb5:2 | G5:4"), fullBandId);
    const alto = await linePart(director, lineId, "sax-alto", "small-tunes", "medium");
    expect(alto.key).toBe("G major");
    // New beyond the five notes: concert G, written E an octave or so up.
    expect(alto.newNotes.map((note) => [note.name, note.concert, note.fingeringText])).toEqual([
      ["E5", "G", "R 123 | 12-"],
    ]);
    expect(alto.svg).toContain("<svg");
    const bells = await linePart(director, lineId, "bells", "five-notes", "medium");
    expect(bells.newNotes[0]!.fingeringText).toBe("strike the bar");
    await expect(linePart(director, lineId, "kazoo", "small-tunes", "medium")).rejects.toThrow(
      "There is no such instrument.",
    );
  }, 60_000);
});

describe("what is handed out", () => {
  it("gives every player of a group the own part, in score order, with what is new and what is out of reach", async () => {
    const { director, fullBandId } = await ownBand();
    await addTo(director, "Zoe Low", ["euphonium"]);
    await addTo(director, "Kofi Two", ["snare", "bells"]);
    await addTo(director, "Ada High", ["flute"], "widening");
    const { groupId } = await addGroup(director, { name: "Duo" });
    await addTo(director, "Bo Horn", ["horn"], "small-tunes", [groupId]);
    const { lineId } = await give(director, line("Eb4:2 Ab5:2 | Bb4:4", { fifths: -3 }), fullBandId);
    const sheets = await printedFor(director, lineId, fullBandId);
    expect(sheets.map((sheet) => [sheet.playerName, sheet.part.instrumentName])).toEqual([
      ["Ada High", "Flute"],
      ["Bo Horn", "Horn in F"],
      ["Zoe Low", "Euphonium"],
      ["Kofi Two", "Bells"],
    ]);
    const low = sheets[2]!.part.newNotes.find((note) => note.name === "E♭2")!;
    expect([low.fingering, low.fingeringText]).toEqual([null, "out of reach of this instrument"]);
    expect((await printedFor(director, lineId, groupId)).map((sheet) => sheet.playerName)).toEqual([
      "Bo Horn",
    ]);
    const stranger = (await ownBand()).director;
    await expect(printedFor(stranger, lineId, fullBandId)).rejects.toThrow("belongs to another band");
  }, 60_000);

  it("says who is ready by instrument and stage, counting a percussionist once", async () => {
    const { director, fullBandId } = await ownBand();
    await addTo(director, "Kofi Two", ["bells", "snare"]);
    await addTo(director, "Ines One", ["clarinet"]);
    await addTo(director, "Olle Far", ["clarinet"], "widening");
    const { lineId } = await give(director, line("Bb4:1 C5:1 G5:2 | Bb4:1/2 C5:1/2 D5:1 Eb5:2"), fullBandId);
    const rows = await lineReadiness(director, lineId);
    expect(
      rows.map((row) => [
        instrumentById(row.instrumentId).name,
        row.stage,
        row.players,
        row.newNotes,
        row.newRhythms,
      ]),
    ).toEqual([
      ["B♭ clarinet", "small-tunes", 1, ["A4"], ["eighth"]],
      ["B♭ clarinet", "widening", 1, [], []],
      ["Bells", "small-tunes", 1, ["G5"], ["eighth"]],
    ]);
    expect((await listLines(director))[0]).toMatchObject({
      players: 3,
      readyPlayers: 1,
      bringsNew: ["G", "A"],
      familiesAsked: ["mallets", "clarinets"],
      readyFamilies: [],
    });
  });

  it("comes as files too: MusicXML in written pitch, MIDI as it sounds", async () => {
    const { director, fullBandId } = await ownBand();
    await addTo(director, "Ines One", ["clarinet"]);
    const { lineId } = await give(director, tune, fullBandId, { number: 7, title: "Tide: Tables/1" });
    const file = await lineFile(director, lineId, "clarinet", "musicxml", "small-tunes");
    expect(file.name).toBe("7 Tide Tables 1 B flat clarinet.musicxml");
    const { score } = readMusicXml(file.bytes);
    expect(score.parts[0].soundsBy).toEqual({ letters: -1, semitones: -2 });
    const midi = await lineFile(director, lineId, "concert", "mid", "small-tunes");
    expect(new TextDecoder().decode(midi.bytes.slice(0, 4))).toBe("MThd");
    await expect(lineFile(director, lineId, "kazoo", "mid", "small-tunes")).rejects.toThrow(
      "There is no such instrument.",
    );
  });
});

describe("a large band costs no more questions to the database than a small one", () => {
  it("on every main page", async () => {
    const pages: [string, (director: Director) => Promise<unknown>][] = [
      ["week", weekView],
      ["listen", listenQueue],
      ["growth", growthView],
      ["band", bandOverview],
      ["shelf", listLines],
    ];
    const counts: Record<string, number>[] = [];
    for (const size of [4, 30]) {
      const { director, fullBandId } = await ownBand();
      const players: PlayerActor[] = [];
      for (let i = 0; i < size; i++) players.push(await addTo(director, `Player ${i}`, ["clarinet"]));
      for (let given = 0; given < size / 2; given++) {
        const { assignmentId } = await give(director, tune, fullBandId);
        for (const player of players.slice(0, size / 2))
          await takeOf(player, assignmentId, { clean: 8, wrong: 1, bars: { 0: 1 } });
      }
      // The shelf reads a line it has not met once more.
      await listLines(director);
      const own: Record<string, number> = {};
      for (const [name, page] of pages) own[name] = await queriesOf(band.db, () => page(director));
      own.stand = await queriesOf(band.db, () => stand(players[0]!));
      counts.push(own);
    }
    expect(counts[1]).toEqual(counts[0]);
    expect(Math.max(...Object.values(counts[0]!))).toBeLessThanOrEqual(8);
  }, 120_000);
});
