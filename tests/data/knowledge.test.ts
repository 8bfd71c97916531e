import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Assessment } from "../../src/core/listen";
import { instrumentById, parsePitch, pitchToMidi } from "../../src/core/music";
import { USUAL_PAGE } from "../../src/core/rhythm";
import { derivePart, type Score, timeline } from "../../src/core/score";
import { Band, Media, Take, Task, Teaching } from "../../src/data";
import { database } from "../../src/server/database";
import { mediaStore } from "../../src/server/media-store";
import type { Director, PlayerActor } from "../../src/services/actor";
import { bandOverview, editPlayers } from "../../src/services/band";
import { makeDrill, rhythmsAsked } from "../../src/services/counting";
import { assign, changeAssignment, setWithdrawn } from "../../src/services/giving";
import { playerPage } from "../../src/services/growth";
import {
  everyNoteFor,
  keepEvidence,
  setExempt,
  setTakenAway,
  setTaught,
  teachConcert,
  teachLine,
  teachThings,
} from "../../src/services/knowledge";
import { storeLine } from "../../src/services/lines";
import { eraseOldSounds, reviewTake, takeDetail, takeSound } from "../../src/services/listening";
import { stand, taskDetail } from "../../src/services/practice";
import { bandSettings, settingsOf } from "../../src/services/settings";
import {
  bandBegun,
  bringBook,
  bringEveryNote,
  lineReadiness,
  listLines,
  sheetsForGroup,
} from "../../src/services/shelf";
import { bandSeats } from "../../src/services/warmups";
import {
  addTo,
  anotherBand,
  type BandInDatabase,
  bandInDatabase,
  decide,
  give,
  queriesOf,
  takeOf,
} from "../support/band";
import { line } from "../support/music";

let band: BandInDatabase;
beforeAll(async () => {
  band = await bandInDatabase();
});
afterAll(() => band.close());

const tune = line("Bb4:1 C5:1 D5:2 | Eb5:1 F5:1 G5:2 | Bb4:4 | C5:4");
const midi = (name: string) => pitchToMidi(parsePitch(name));
const onShelf = async (director: Director, score: Score = tune) =>
  (await storeLine(director.bandId, score, { fileName: "t", title: "Tune", number: 14 })).lineId;
const ready = async (director: Director, lineId: string) =>
  (await listLines(director)).find(({ id }) => id === lineId)!.readyPlayers;
const notesOf = async (director: Director, player: PlayerActor) =>
  (await playerPage(director, player.playerId)).instruments[0]!.things.flatMap(({ kind, name }) =>
    kind === "note" ? [name] : [],
  );

/** Keeps what a take shows as the engine would have told it, every note right. */
async function showAll(
  player: PlayerActor,
  takeId: string,
  score: Score,
  instrumentId: string,
): Promise<void> {
  const { score: part } = derivePart(score, instrumentById(instrumentId), "five-notes");
  const notes = timeline(part).notes.map((note) => ({
    index: note.index,
    eventId: note.eventId,
    measure: note.measure,
    beat: note.beat,
    verdict: "ok",
    kind: null,
    timing: "ok",
    length: "ok",
    flags: [],
  }));
  const assessment = { take: { status: "assessed" }, notes } as unknown as Assessment;
  await database().transaction((transaction) =>
    keepEvidence(
      { id: takeId, playerId: player.playerId, bandId: player.bandId },
      instrumentId,
      part,
      assessment,
      new Set(),
      transaction,
    ),
  );
}

describe("what was taught", () => {
  it("makes a band ready, on the day and not before, and is taken back", async () => {
    const { director, fullBandId } = await anotherBand();
    await addTo(director, "Ada", ["flute"], "five-notes");
    await addTo(director, "Bo", ["tuba"], "five-notes");
    const lineId = await onShelf(director);
    expect(await ready(director, lineId)).toBe(0);
    await teachLine(director, lineId, { groupId: fullBandId, instruments: [], on: "2099-01-01" });
    expect(await ready(director, lineId)).toBe(0);
    const { teachingId, players } = await teachLine(director, lineId, {
      groupId: fullBandId,
      instruments: ["tuba"],
      on: "2026-01-01",
    });
    expect(players).toBe(1);
    expect(await ready(director, lineId)).toBe(0);
    // G above is beyond the range of five notes: a stage further both can play it.
    for (const { id } of (await bandOverview(director)).players)
      await editPlayers(director, {
        changes: [{ playerId: id, field: "stage", was: "five-notes", is: "small-tunes" }],
      });
    expect(await ready(director, lineId)).toBe(1);
    await setTaught(director, teachingId, false);
    expect(await ready(director, lineId)).toBe(0);
    await setTaught(director, teachingId, true);
    expect(await ready(director, lineId)).toBe(1);
  });

  it("is each player's own: new things of their own part, with the reason on their page", async () => {
    const { director, fullBandId } = await anotherBand();
    const cleo = await addTo(director, "Cleo", ["clarinet"], "five-notes");
    const hugo = await addTo(director, "Hugo", ["horn"], "five-notes");
    const lineId = await onShelf(director, line("Bb4:1 C5:1 D5:2"));
    await teachLine(director, lineId, { groupId: fullBandId, instruments: [], on: "2026-10-03" });
    // Concert B♭ C D: C D E on the clarinet, F G A on the horn (common practice, no published source).
    expect(await notesOf(director, cleo)).toEqual(["C4", "D4", "E4"]);
    expect(await notesOf(director, hugo)).toEqual(["F4", "G4", "A4"]);
    const [first] = (await playerPage(director, cleo.playerId)).instruments[0]!.things;
    expect(first).toMatchObject({
      level: "knows",
      reasons: [{ by: "taught", on: "2026-10-03", said: "No. 14" }],
    });
    // Taught again, nothing is new.
    expect(
      await teachLine(director, lineId, { groupId: fullBandId, instruments: [], on: "2026-10-04" }),
    ).toMatchObject({ things: 0 });
  });

  it("as a concert note gives each instrument its own; single things go to a section or one player", async () => {
    const { director, fullBandId } = await anotherBand();
    const cleo = await addTo(director, "Cleo", ["clarinet"], "five-notes");
    const otto = await addTo(director, "Otto", ["clarinet"], "five-notes");
    const sid = await addTo(director, "Sid", ["snare"], "five-notes");
    expect(
      await teachConcert(director, { groupId: fullBandId, pitchClass: 8, on: "2026-10-01" }),
    ).toMatchObject({ players: 2 });
    expect(await notesOf(director, cleo)).toEqual(["B♭4"]);
    await teachThings(director, {
      groupId: null,
      playerId: otto.playerId,
      instrumentId: "clarinet",
      things: [{ kind: "note", thing: String(midi("E3")) }],
      on: "2026-10-02",
    });
    expect(await notesOf(director, otto)).toEqual(["E3", "B♭4"]);
    await teachThings(director, {
      groupId: fullBandId,
      playerId: null,
      instrumentId: null,
      things: [{ kind: "rhythm", thing: "triplet" }],
      on: "2026-10-02",
    });
    expect((await playerPage(director, sid.playerId)).instruments[0]!.things.map(({ name }) => name)).toEqual(
      ["triplet"],
    );
  });

  it("comes with a line that is given, on the day it is due, and moves and goes with it", async () => {
    const { director, fullBandId } = await anotherBand();
    await addTo(director, "Ada", ["flute"], "five-notes");
    const lineId = await onShelf(director);
    const input = {
      lineId,
      groupId: fullBandId,
      goalBpm: 80,
      timesPerWeek: 5,
      note: "",
      dueDate: "2099-01-01",
    };
    const { assignmentId } = await assign(director, { ...input, teach: true });
    const lesson = async () => (await Teaching.findOne({ where: { assignmentId } }))!;
    expect((await lesson()).taughtOn).toBe("2099-01-01");
    await changeAssignment(director, assignmentId, { ...input, dueDate: "2099-01-08" });
    expect((await lesson()).taughtOn).toBe("2099-01-08");
    await setWithdrawn(director, assignmentId, true);
    expect((await lesson()).removedAt).not.toBeNull();
    await setWithdrawn(director, assignmentId, false);
    expect((await lesson()).removedAt).toBeNull();
  });
});

describe("what was shown", () => {
  it("counts from an accepted take, and no more when the word is taken back", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"], "five-notes");
    const short = line("Bb4:2 C5:2");
    const { assignmentId } = await give(director, short, fullBandId);
    const takeId = await takeOf(ada, assignmentId);
    await showAll(ada, takeId, short, "flute");
    expect(await notesOf(director, ada)).toEqual([]);
    await reviewTake(director, takeId, { decision: "accepted", comment: "", marks: {} });
    expect(await notesOf(director, ada)).toEqual(["B♭4", "C5"]);
    const [note] = (await playerPage(director, ada.playerId)).instruments[0]!.things;
    expect(note).toMatchObject({
      level: "sounds",
      reasons: [{ by: "shown", cleanTakes: 1, acceptedTakes: 1 }],
    });
    await reviewTake(director, takeId, { decision: "again", comment: "", marks: {} });
    expect(await notesOf(director, ada)).toEqual([]);
  });

  it("counts from several clean takes without any word, and belongs to the instrument it was played on", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"], "five-notes");
    const short = line("Bb4:2 C5:2");
    const { assignmentId } = await give(director, short, fullBandId);
    for (let i = 0; i < 3; i++) await showAll(ada, await takeOf(ada, assignmentId), short, "flute");
    expect(await notesOf(director, ada)).toEqual(["B♭4", "C5"]);
    await editPlayers(director, {
      changes: [{ playerId: ada.playerId, field: "instruments", was: ["flute"], is: ["horn"] }],
    });
    const page = await playerPage(director, ada.playerId);
    expect(
      page.instruments.map(({ instrumentId, to, things }) => [instrumentId, to !== null, things.length > 0]),
    ).toEqual([
      ["horn", false, false],
      ["flute", true, true],
    ]);
    expect(page.tasks.flatMap(({ takes }) => takes)).toHaveLength(3);
  });
});

describe("what the director takes away", () => {
  it("is not known that day, and a note that is exempt is known and not judged", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"], "small-tunes");
    const note = {
      instrumentId: "flute",
      kind: "note" as const,
      thing: String(midi("B♭4".replace("♭", "b"))),
    };
    await setTakenAway(director, ada.playerId, note, "2026-11-01");
    expect(await notesOf(director, ada)).not.toContain("B♭4");
    await setTakenAway(director, ada.playerId, note, null);
    expect(await notesOf(director, ada)).toContain("B♭4");

    await setExempt(director, ada.playerId, { instrumentId: "flute", writtenMidi: midi("C5"), exempt: true });
    expect((await playerPage(director, ada.playerId)).instruments[0]!.things).toContainEqual(
      expect.objectContaining({ name: "C5", level: "knows", exempt: true }),
    );
    const { assignmentId } = await give(director, tune, fullBandId);
    const task = (await Task.findOne({ where: { assignmentId, playerId: ada.playerId } }))!;
    expect((await taskDetail(ada, task.id, "wide")).exempt).toEqual([midi("C5")]);
    const everyNote = await everyNoteFor(director, ada.playerId).catch((error: Error) => error);
    if (!(everyNote instanceof Error))
      expect(JSON.stringify(everyNote[0]!.score)).not.toContain('"letter":"C","alter":0,"octave":5');
  });
});

describe("readiness asks every player", () => {
  it("in rows of those of whom the line asks the same, with their names", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    await addTo(director, "Bea", ["flute"]);
    await addTo(director, "Cara", ["flute"]);
    const lineId = await onShelf(director);
    const rows = async () =>
      (await lineReadiness(director, lineId)).map((row) => [
        row.people.map(({ name }) => name),
        row.newNotes,
      ]);
    expect(await rows()).toEqual([[["Ada", "Bea", "Cara"], ["G5"]]]);
    const teach = (thing: string) =>
      teachThings(director, {
        groupId: null,
        playerId: ada.playerId,
        instrumentId: "flute",
        things: [{ kind: "note", thing }],
        on: "2026-01-01",
      });
    // Knowing something else makes no row of its own.
    await teach(String(midi("D6")));
    expect(await rows()).toHaveLength(1);
    await teach(String(midi("G5")));
    expect(await rows()).toEqual([
      [["Ada"], []],
      [["Bea", "Cara"], ["G5"]],
    ]);
    expect(await ready(director, lineId)).toBe(1);
    // Sheets show a new fingering to those for whom it is new, and warm-ups ask the same.
    const sheets = await sheetsForGroup(director, lineId, fullBandId);
    expect(sheets.map(({ playerName }) => playerName)).toEqual(["Ada", "Bea", "Cara"]);
    const seats = await bandSeats(director);
    expect(seats.map(({ players, known }) => [players, known.notes.includes(midi("G5"))]).sort()).toEqual([
      [1, true],
      [2, false],
    ]);
  });

  it("with a handful of statements, however many players and lessons there are", async () => {
    const { director, fullBandId } = await anotherBand();
    const lineId = await onShelf(director);
    await addTo(director, "One", ["flute"]);
    await listLines(director);
    const few = await queriesOf(band.db, () => listLines(director));
    for (let i = 0; i < 12; i++) await addTo(director, `Player ${i}`, ["clarinet"]);
    for (let i = 0; i < 6; i++)
      await teachLine(director, lineId, { groupId: fullBandId, instruments: [], on: `2026-01-0${i + 1}` });
    await listLines(director);
    expect(await queriesOf(band.db, () => listLines(director))).toBe(few);
    const page = (await bandOverview(director)).players[0]!;
    expect(await queriesOf(band.db, () => playerPage(director, page.id))).toBeLessThan(20);
  });
});

describe("a counting page", () => {
  it("says for whom a rhythm is new, whatever they play, until it is taught", async () => {
    const { director, fullBandId } = await anotherBand();
    await addTo(director, "Ada", ["flute"], "small-tunes");
    await addTo(director, "Kofi", ["bells", "snare"], "widening");
    const { id } = await makeDrill(director, {
      title: "Eighths",
      settings: { ...USUAL_PAGE, attacks: [7, 7], choice: "complete" },
      bpm: 80,
      loops: 1,
      system: null,
    });
    const fresh = async () =>
      (await rhythmsAsked(director, id))
        .filter(({ newFor }) => newFor.length > 0)
        .map(({ rhythm, newFor }) => [rhythm, newFor.map(({ name }) => name)]);
    // Eighths and ties come with small tunes, which Ada has just begun.
    expect(await fresh()).toEqual([
      ["eighth", ["Ada"]],
      ["tie", ["Ada"]],
    ]);
    await teachThings(director, {
      groupId: fullBandId,
      playerId: null,
      instrumentId: null,
      things: [
        { kind: "rhythm", thing: "eighth" },
        { kind: "rhythm", thing: "tie" },
      ],
      on: "2026-01-01",
    });
    expect(await fresh()).toEqual([]);
  });
});

describe("a line given with bars", () => {
  it("shows, asks and keeps only those, and takes sent before a change keep theirs", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const lineId = await onShelf(director);
    const input = {
      lineId,
      groupId: fullBandId,
      goalBpm: 80,
      timesPerWeek: 5,
      note: "",
      dueDate: "2099-01-01",
    };
    const { assignmentId } = await assign(director, { ...input, firstBar: 1, lastBar: 2 });
    const [card] = (await stand(ada)).tasks;
    expect(card!.bars).toBe("bars 2 to 3");
    const detail = await taskDetail(ada, card!.id, "wide");
    expect(detail.score.parts[0].measures.map(({ number }) => number)).toEqual(["2", "3"]);
    const takeId = await takeOf(ada, assignmentId);
    await Take.update({ firstBar: 1, lastBar: 2 }, { where: { id: takeId } });
    const { changedNote } = await changeAssignment(director, assignmentId, {
      ...input,
      goalBpm: 96,
      firstBar: 0,
      lastBar: 1,
    });
    expect(changedNote).toBe("Changed: the goal is 96 bpm now, other bars are asked for now.");
    expect((await stand(ada)).tasks[0]).toMatchObject({
      bars: "bars 1 to 2",
      goalBpm: 96,
      changedNote,
      state: "sent",
    });
    expect((await takeDetail(director, takeId)).score.parts[0].measures.map(({ number }) => number)).toEqual([
      "2",
      "3",
    ]);
    await expect(
      changeAssignment(director, assignmentId, { ...input, firstBar: 3, lastBar: 9 }),
    ).rejects.toThrow("no such bars");
    // All bars are the whole line.
    await changeAssignment(director, assignmentId, { ...input, firstBar: 0, lastBar: 3 });
    expect((await stand(ada)).tasks[0]!.bars).toBeNull();
  });

  it("is noticed when the group has it already, and when its day is off", async () => {
    const { director, fullBandId } = await anotherBand();
    await addTo(director, "Ada", ["flute"]);
    const lineId = await onShelf(director);
    const input = {
      lineId,
      groupId: fullBandId,
      goalBpm: 80,
      timesPerWeek: 5,
      note: "",
      dueDate: "2099-01-01",
    };
    await assign(director, input);
    await expect(assign(director, input)).rejects.toMatchObject({
      code: "conflict",
      fields: { sure: "again" },
    });
    await assign(director, { ...input, sure: ["again"] });
    // 3 January 2099 is a Saturday.
    const saturday = { ...input, dueDate: "2099-01-03", sure: ["again" as const] };
    await expect(assign(director, saturday)).rejects.toMatchObject({
      fields: { sure: "day-off" },
      message: /is off \(the weekend\)/,
    });
    await assign(director, { ...saturday, sure: ["again", "day-off"] });
  });

  it("goes to each player in the part they read by agreement", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const bea = await addTo(director, "Bea", ["flute"]);
    await editPlayers(director, {
      changes: [{ playerId: bea.playerId, field: "part", was: null, is: "easy" }],
    });
    const easy = line("Bb4:4 | Bb4:4 | Bb4:4 | Bb4:4").parts[0];
    const score: Score = {
      ...tune,
      parts: [
        tune.parts[0],
        {
          ...easy,
          id: "P2",
          name: "Easy",
          measures: easy.measures.map((measure) => ({
            ...measure,
            events: measure.events.map((event) => ({ ...event, id: `e${event.id}` })),
          })),
        },
      ],
    };
    const { assignmentId } = await give(director, score, fullBandId);
    const partOf = async (who: PlayerActor) =>
      (await Task.findOne({ where: { assignmentId, playerId: who.playerId } }))!.partId;
    expect([await partOf(ada), await partOf(bea)]).toEqual(["P1", "P2"]);
  });
});

describe("settings", () => {
  it("are the usual where nothing was decided, and a stored value that no longer fits is the usual too", async () => {
    const { director } = await anotherBand();
    const row = (await Band.findByPk(director.bandId))!;
    expect(settingsOf(row)).toMatchObject({ naming: "letters", retentionWeeks: null, soundWeeks: 5 });
    expect(settingsOf({ settings: { naming: "shapes", soundWeeks: 900, paper: "letter" } })).toMatchObject({
      naming: "letters",
      soundWeeks: 5,
      paper: "letter",
    });
  });

  it("judge takes by the stage, and give cards in the weeks of making a sound", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"], "making-a-sound");
    const { judging } = await bandSettings(director);
    await decide(director, {
      judging: { ...judging, "making-a-sound": { inTuneCents: 45, inTimeMs: 150 } },
    });
    const { assignmentId } = await give(director, tune, fullBandId);
    const task = (await Task.findOne({ where: { assignmentId } }))!;
    const detail = await taskDetail(ada, task.id, "wide");
    expect(detail).toMatchObject({
      inTuneCents: 45,
      cardsOnly: true,
      heard: { by: ["Dita Rector"], weeks: null },
    });
    expect(detail.tolerances.timingToleranceMs).toBe(150);
    // Every note of the part is a card, known or not.
    expect(detail.cards.map(({ name }) => name)).toEqual(["B♭4", "C5", "D5", "E♭5", "F5", "G5"]);
    await decide(director, { cardsFirst: false });
    expect((await taskDetail(ada, task.id, "wide")).cardsOnly).toBe(false);
  });

  it("keep what another window decided, and ask before they replace it", async () => {
    const { director } = await anotherBand();
    const opened = await bandSettings(director);
    const { daysOff, name } = opened;
    const festival = { from: "2026-12-01", to: "2026-12-02", name: "Festival" };
    await decide(director, { daysOff: [festival], was: { daysOff } });
    // A page that was opened before it and changes something else takes nothing back.
    await decide(director, { name: "Quay", was: { name } });
    expect(await bandSettings(director)).toEqual({ ...opened, daysOff: [festival], name: "Quay" });
    // The same changed in both is asked about, and nothing of it is kept.
    const winter = { ...festival, name: "Winter" };
    const both = { daysOff: [winter], corrected: "wrong", was: { daysOff, corrected: "right" } };
    await expect(decide(director, both)).rejects.toMatchObject({
      code: "conflict",
      fields: { sure: "changed-since" },
    });
    expect(await bandSettings(director)).toMatchObject({ daysOff: [festival], corrected: "right" });
    await decide(director, { ...both, sure: true });
    expect(await bandSettings(director)).toMatchObject({
      daysOff: [winter],
      corrected: "wrong",
      name: "Quay",
    });
  });

  it("keep takes to those who may hear, and always to somebody", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const { assignmentId } = await give(director, tune, fullBandId);
    const takeId = await takeOf(ada, assignmentId);
    expect((await takeSound(director, takeId)).storeKey).toContain(takeId);
    await expect(decide(director, { hearing: [crypto.randomUUID()] })).rejects.toThrow(
      "Somebody of the band has to hear",
    );
    const { Membership } = await import("../../src/data");
    await Membership.update({ mayHear: false }, { where: { userId: director.userId } });
    await expect(takeSound(director, takeId)).rejects.toThrow("to other directors");
    await expect(takeDetail(director, takeId)).rejects.toThrow("to other directors");
    expect((await takeSound(ada, takeId)).storeKey).toContain(takeId);
  });

  it("erase old sounds and nothing else, and only where the band says so", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const { assignmentId } = await give(director, tune, fullBandId);
    const takeId = await takeOf(ada, assignmentId, { total: 10, clean: 9, wrong: 1 });
    const { storeKey } = await takeSound(director, takeId);
    await mediaStore().put(storeKey, new Uint8Array([1, 2, 3]));
    await reviewTake(director, takeId, { decision: "accepted", comment: "kept", marks: { notes: 4 } });
    const later = Date.now() + 30 * 86_400_000;
    expect(await eraseOldSounds(later)).toBe(0);
    await decide(director, { retentionWeeks: 4 });
    expect(await eraseOldSounds(Date.now() + 20 * 86_400_000)).toBe(0);
    expect(await eraseOldSounds(later)).toBe(1);
    expect(await eraseOldSounds(later)).toBe(0);
    await expect(mediaStore().read(storeKey)).rejects.toThrow();
    await expect(takeSound(ada, takeId)).rejects.toThrow("was erased");
    const page = await playerPage(director, ada.playerId);
    expect(page.tasks[0]!.takes[0]).toMatchObject({
      erased: true,
      decision: "accepted",
      comment: "kept",
      mark: 100,
      remark: "1 wrong",
    });
    expect(await Media.count({ where: { storeKey } })).toBe(1);
  });
});

describe("beginning", () => {
  it("puts the book that comes with the bench on an empty shelf, with its further parts, once", async () => {
    const { director } = await anotherBand();
    await addTo(director, "Ada", ["flute"], "small-tunes");
    expect(await bandBegun(director)).toEqual({ lines: 0, given: 0 });
    expect(await bringBook(director)).toEqual({ lines: 36 });
    await expect(bringBook(director)).rejects.toThrow("on your shelf already");
    const lines = await listLines(director);
    expect(lines).toHaveLength(36);
    expect(lines[0]).toMatchObject({ number: 1, readyPlayers: 1 });
  });

  it("makes a line of every note that a group knows", async () => {
    const { director, fullBandId } = await anotherBand();
    await addTo(director, "Ada", ["flute"], "small-tunes");
    await addTo(director, "Bo", ["tuba"], "small-tunes");
    const { lineId } = await bringEveryNote(director, fullBandId);
    expect((await listLines(director)).find(({ id }) => id === lineId)).toMatchObject({
      title: "Every note Full Band knows",
      readyPlayers: 2,
    });
    await addTo(director, "New", ["horn"], "five-notes");
    await expect(bringEveryNote(director, fullBandId)).rejects.toThrow("share fewer than two notes");
  });
});
