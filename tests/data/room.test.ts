import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { RoomNote, WallCommand } from "../../src/core/room";
import {
  Absence,
  Assignment,
  PencilMark,
  Room,
  RoomCommand,
  RoomPass,
  RoomRemote,
  StripRow,
  Task,
  Taught,
  Teaching,
} from "../../src/data";
import type { Actor, Director } from "../../src/services/actor";
import { addGroup } from "../../src/services/band";
import { givenNow, keptWithTake } from "../../src/services/giving";
import { storeLine } from "../../src/services/lines";
import { stand } from "../../src/services/practice";
import {
  bringIn,
  CloseRoom,
  closeRoom,
  enterPass,
  joinRoom,
  KeepRoomState,
  keepState,
  lessonAtHome,
  makePass,
  NoteRoom,
  notedInClass,
  noteRoom,
  notesFor,
  openAgain,
  openRoom,
  otherLessons,
  roomActorOf,
  roomLog,
  roomStart,
  roomStream,
  roomView,
  sendRoomHome,
  setAtHome,
  setDoor,
  setGoal,
  shutPass,
  TellRoom,
  tellRoom,
} from "../../src/services/room";
import type { RoomNews } from "../../src/services/room/wire";
import { WritePencil, writePencil } from "../../src/services/shelf";
import { SavePlan, savePlan } from "../../src/services/week";
import { until } from "../support/application";
import { addTo, anotherBand, type BandInDatabase, bandInDatabase, refusal } from "../support/band";
import { line } from "../support/music";
import { day, type Planned, planned } from "../support/planned";

let band: BandInDatabase;
beforeAll(async () => {
  band = await bandInDatabase();
});
afterAll(() => band.close());

/** A lesson with a line, a drill for words, and another line; the second strip carries words for the director alone. */
async function lesson(first: string | null = null) {
  const plan = await planned();
  const { director, groupId } = plan;
  const about = { fileName: "test.musicxml", title: "Tune 1", number: 1 };
  const own = first && (await storeLine(director.bandId, line(first), about)).lineId;
  const lineIds = own ? [own, ...plan.lineIds.slice(1)] : plan.lineIds;
  const ids = [crypto.randomUUID(), crypto.randomUUID(), crypto.randomUUID()];
  const strip = (id: string, place: number, about: object) => ({
    id,
    basis: null,
    strip: {
      id,
      groupId,
      where: "class",
      forWhom: { kind: "everyone" },
      date: day(1),
      place,
      minutes: 10,
      firstBar: null,
      lastBar: null,
      note: "",
      reason: null,
      ...about,
    },
  });
  await savePlan(
    director,
    SavePlan.parse({
      since: 0,
      changes: [
        strip(ids[0]!, 1, { kind: "line", refId: lineIds[0], title: "Tune 1", firstBar: 1, lastBar: 1 }),
        strip(ids[1]!, 2, { kind: "text", refId: null, title: "Posture", note: "Bo slouches" }),
        strip(ids[2]!, 3, { kind: "line", refId: lineIds[1], title: "Tune 2" }),
      ],
    }),
  );
  const { id } = await openRoom(director, { groupId, date: day(1) });
  return { ...plan, lineIds, roomId: id, strips: ids as [string, string, string] };
}

const noted = (note: RoomNote, blockId: string | null, about: object = {}) => ({
  id: crypto.randomUUID(),
  atMs: Date.now(),
  blockId,
  note,
  undone: false,
  ...about,
});
const note = (actor: Actor, roomId: string, entries: unknown[]) =>
  noteRoom(actor, roomId, NoteRoom.parse({ entries }));
const say = (actor: Actor, roomId: string, command: WallCommand, id = crypto.randomUUID()) =>
  tellRoom(actor, roomId, TellRoom.parse({ id, command }));
const remoteOf = async (director: Director, roomId: string): Promise<Actor> => {
  const { code } = await setDoor(director, roomId, true);
  return (await roomActorOf((await joinRoom(code!)).token))!;
};

const close = (plan: Planned & { roomId: string }, asked: object) =>
  closeRoom(
    plan.director,
    plan.roomId,
    CloseRoom.parse({ taught: [], notReached: [], forNext: true, ...asked }),
  );

describe("a lesson on the wall", () => {
  it("has everything with it: names for each instrument, tempo, bars and minutes", async () => {
    const { director, roomId, strips } = await lesson();
    const { sheet, state } = await roomView(director, roomId);
    expect(sheet.blocks.map(({ title, minutes, bars }) => [title, minutes, bars])).toEqual([
      ["Tune 1", 10, "2"],
      ["Posture", 10, ""],
      ["Tune 2", 10, ""],
    ]);
    const rows = sheet.blocks[0]!.tune!.rows;
    expect(
      rows.map(({ labels, notes }) => [labels[0], notes.map(({ written }) => written!.letter).join(" ")]),
    ).toEqual([
      ["Flute", "B C D"],
      ["B♭ clarinet", "C D E"],
    ]);
    expect(rows[1]!.notes[0]!.fingering).not.toBe("");
    // The clarinet tunes on its C, the tuner shows B flat: common practice, no published source.
    expect(sheet.instruments.find(({ id }) => id === "clarinet")?.tuning).toMatchObject({
      written: "C",
      concert: "B♭",
    });
    expect(state).toMatchObject({ at: strips[0], bars: "2", order: strips });
  });

  it("keeps the director's own words off the wall and from who stands in, and on the phone", async () => {
    const { director, roomId } = await lesson();
    const words = async (actor: Actor, asked: boolean) =>
      JSON.stringify(await roomView(actor, roomId, asked)).includes("slouches");
    expect(await words(director, false)).toBe(false);
    expect(await words(await remoteOf(director, roomId), true)).toBe(true);
    const { code } = await makePass(director, { name: "Sub", from: day(0), to: day(4) });
    expect(await words((await roomActorOf((await passUsed(code)).token))!, true)).toBe(false);
  });

  it("is one lesson, however often and wherever it is opened", async () => {
    const { director, groupId, roomId } = await lesson();
    const again = await Promise.all([1, 2, 3].map(() => openRoom(director, { groupId, date: day(1) })));
    expect(new Set(again.map(({ id }) => id))).toEqual(new Set([roomId]));
    const both = await Promise.all([1, 2].map(() => openRoom(director, { groupId, date: day(3) })));
    expect(both[0]).toEqual(both[1]);
    expect(await refusal(openRoom(director, { groupId, date: day(2) }))).toMatch(/class on this day/);
  });

  it("keeps the newest of what it shows, and what it has followed", async () => {
    const { director, roomId } = await lesson();
    const { state } = await roomView(director, roomId);
    const keep = (version: number, bars: string, heard = 0) =>
      keepState(director, roomId, KeepRoomState.parse({ version, heard, state: { ...state, bars } }));
    expect(await keep(2, "1")).toEqual({ kept: true });
    expect(await keep(1, "2")).toEqual({ kept: false });
    expect(await keep(3_000_000_000, "2")).toEqual({ kept: false });
    const { seq } = await say(director, roomId, { kind: "play" });
    await keep(3, "1", seq);
    expect(await roomView(director, roomId)).toMatchObject({
      heard: seq,
      state: { bars: "1" },
      stateVersion: 3,
    });
    expect(KeepRoomState.safeParse({ version: 4, heard: 0, state: { ...state, order: ["x"] } }).success).toBe(
      false,
    );
  });
});

/** Whoever types a code right after it was made finds it; the code itself is told once. */
const passUsed = (code: string) => enterPass(code);

describe("a phone", () => {
  it("joins by a code that ends, and only while the door is open", async () => {
    const { director, roomId } = await lesson();
    const { code } = await setDoor(director, roomId, true);
    expect(code).toMatch(/^[A-Z2-9]{6}$/);
    const { token } = await joinRoom(` ${code!.toLowerCase()} `);
    expect(await roomActorOf(token)).toEqual({ kind: "remote", roomId, bandId: director.bandId });
    await setDoor(director, roomId, false);
    expect(await refusal(joinRoom(code!))).toMatch(/No lesson has this code/);
    const next = await setDoor(director, roomId, true);
    await Room.update({ codeUntil: new Date(Date.now() - 1000) }, { where: { id: roomId } });
    expect(await refusal(joinRoom(next.code!))).toMatch(/ten minutes/);
    // Who is in stays in. After the lesson nothing can be steered, but what was noted without network still arrives.
    const remote = (await roomActorOf(token))!;
    await closeRoom(director, roomId, { taught: [], notReached: [], forNext: false });
    expect(await refusal(say(remote, roomId, { kind: "next" }))).toMatch(/over/);
    await note(remote, roomId, [noted({ kind: "tag", tag: "solid", bars: "", instruments: [] }, null)]);
    expect((await roomView(director, roomId)).entries).toHaveLength(1);
    await RoomRemote.update({ expiresAt: new Date(Date.now() - 1000) }, { where: { roomId } });
    expect(await roomActorOf(token)).toBeNull();
  });

  it("steers its own lesson alone, and nothing else of the band", async () => {
    const { director, roomId, groupId } = await lesson();
    const remote = await remoteOf(director, roomId);
    const other = await openRoom(director, { groupId, date: day(3) });
    expect(await refusal(say(remote, other.id, { kind: "play" }))).toMatch(/does not exist/);
    expect(await refusal(roomView(remote, other.id))).toMatch(/does not exist/);
    expect(await refusal(setDoor(remote, roomId, true))).toMatch(/Only the band's director/);
    expect(await refusal(openRoom(remote, { groupId, date: day(1) }))).toMatch(/Only the band's director/);
    const { state } = await roomView(remote, roomId);
    expect(
      await refusal(keepState(remote, roomId, KeepRoomState.parse({ version: 9, heard: 0, state }))),
    ).toMatch(/Only the band's director/);
  });

  it("is told once, however often a word is sent, and in one order", async () => {
    const { director, roomId } = await lesson();
    const remote = await remoteOf(director, roomId);
    const id = crypto.randomUUID();
    const twice = await Promise.all([1, 2].map(() => say(remote, roomId, { kind: "next" }, id)));
    expect(twice[0]!.seq).toBe(twice[1]!.seq);
    await Promise.all(
      Array.from({ length: 10 }, (_, i) => say(remote, roomId, { kind: "tempo", bpm: 60 + i })),
    );
    const rows = await RoomCommand.findAll({ where: { roomId }, order: [["seq", "ASC"]] });
    expect(rows).toHaveLength(11);
    expect(new Set(rows.map(({ seq }) => seq)).size).toBe(11);
  });

  it("is heard on the wall as it happens, with what was noted", async () => {
    const { director, roomId, strips } = await lesson();
    const remote = await remoteOf(director, roomId);
    const news: RoomNews[] = [];
    const reader = (await roomStream(director, roomId, { told: 0, stateVersion: 0 })).getReader();
    const listening = (async () => {
      const text = new TextDecoder();
      for (let chunk = await reader.read(); !chunk.done; chunk = await reader.read())
        for (const [, data] of text.decode(chunk.value).matchAll(/^data: (.*)$/gm))
          news.push(JSON.parse(data!) as RoomNews);
    })();
    await say(remote, roomId, { kind: "bars", bars: "1-2" });
    await note(remote, roomId, [
      noted({ kind: "tag", tag: "heavy", bars: "1-2", instruments: [] }, strips[0]),
    ]);
    await until(async () => news.some(({ entries }) => entries?.length === 1));
    expect(news.flatMap(({ told }) => told ?? []).map(({ command }) => command)).toEqual([
      { kind: "bars", bars: "1-2" },
    ]);
    await reader.cancel();
    await listening;
  });
});

describe("the log", () => {
  it("arrives exactly once, undone stays undone, and another lesson's entries are left alone", async () => {
    const { director, roomId, groupId, strips } = await lesson();
    const tap = noted({ kind: "tag", tag: "rushing", bars: "1", instruments: ["flute"] }, strips[0]);
    await Promise.all(
      [note(director, roomId, [tap]), note(director, roomId, [tap])].map((p) => p.catch(() => null)),
    );
    await note(director, roomId, [tap, { ...tap, undone: true }]);
    await note(director, roomId, [tap]);
    const { entries } = await roomView(director, roomId);
    expect(entries.map(({ id, undone }) => [id, undone])).toEqual([[tap.id, true]]);
    const other = await openRoom(director, { groupId, date: day(3) });
    expect(await refusal(note(director, other.id, [tap]))).toMatch(/another lesson/);
  });

  it("refuses a player who is not in the band", async () => {
    const { director, roomId } = await lesson();
    const stranger = await addTo((await anotherBand()).director, "Stranger", ["flute"]);
    expect(
      await refusal(note(director, roomId, [noted({ kind: "absent", playerId: stranger.playerId }, null)])),
    ).toMatch(/not in the band/);
  });

  it("is shown beside the takes of its line", async () => {
    const { director, roomId, strips, lineIds } = await lesson();
    await note(director, roomId, [
      noted({ kind: "tag", tag: "key signature", bars: "2", instruments: ["clarinet"] }, strips[0]),
    ]);
    expect(await notedInClass(director, lineIds[0]!)).toMatchObject([
      { groupName: "Winds", note: { tag: "key signature" } },
    ]);
    expect(await notedInClass((await anotherBand()).director, lineIds[0]!)).toEqual([]);
  });
});

describe("closing a lesson", () => {
  it("tells the plan who was absent, what was left, what was taught and to whom, and what comes next time", async () => {
    const plan = await lesson();
    const { director, groupId, roomId, strips, flute, lineIds } = plan;
    await note(director, roomId, [
      noted({ kind: "absent", playerId: flute.playerId }, null),
      noted({ kind: "tag", tag: "rushing", bars: "2", instruments: ["clarinet"] }, strips[0]),
      noted({ kind: "star", bars: "2", instruments: ["clarinet"] }, strips[0]),
      noted({ kind: "dynamics", dynamic: "p", bars: "2", instruments: ["clarinet"] }, strips[0]),
    ]);
    expect(await close(plan, { taught: [strips[0]], notReached: [strips[2]] })).toEqual({
      absent: 1,
      taught: 1,
      notReached: 1,
      starred: 1,
    });
    expect(await Absence.findAll({ where: { groupId, date: day(1) } })).toMatchObject([
      { playerId: flute.playerId },
    ]);
    const rows = await StripRow.findAll({ where: { bandId: director.bandId }, order: ["date", "place"] });
    expect(rows.map(({ title, notReached, date }) => [title, Boolean(notReached), date])).toEqual([
      ["Tune 1", false, day(1)],
      ["Posture", false, day(1)],
      ["Tune 2", true, day(1)],
      ["Tune 1", false, day(3)],
    ]);
    expect(rows[3]).toMatchObject({ instrumentId: "clarinet", firstBar: 1, lastBar: 1, note: "rushing" });
    const [teaching] = await Teaching.findAll({ where: { lineId: lineIds[0]! } });
    expect(teaching).toMatchObject({ groupId, taughtOn: day(1) });
    const marks = await PencilMark.findAll({ where: { lineId: lineIds[0]! } });
    expect(marks.map(({ text, instrumentId, shared }) => [text, instrumentId, Boolean(shared)])).toEqual([
      ["p", "clarinet", true],
    ]);
  });

  it("lets what was changed for a section be pencil on its stands, and what its next takes are heard by", async () => {
    const plan = await lesson();
    const { director, roomId, strips, flute, clarinet } = plan;
    await sendRoomHome(director, roomId, { blocks: [strips[0]], dueDate: day(3) });
    const asked = async ({ playerId }: { playerId: string }) => {
      const task = (await Task.findOne({ where: { playerId } }))!;
      const given = (await Assignment.findByPk(task.assignmentId))!;
      return keptWithTake(await givenNow(task.id, given)).asked.dynamics;
    };
    expect(await asked(clarinet)).toBeUndefined();
    const ofClarinets = { bars: "2", instruments: ["clarinet"] };
    await note(director, roomId, [noted({ kind: "dynamics", dynamic: "p", ...ofClarinets }, strips[0])]);
    await close(plan, {});
    expect(await asked(clarinet)).toMatchObject([{ dynamic: "p" }]);
    expect(await asked(flute)).toBeUndefined();
    // What a player pencils is the player's own.
    const [mark] = await PencilMark.findAll({ where: { bandId: director.bandId } });
    await writePencil(
      flute,
      plan.lineIds[0]!,
      WritePencil.parse({ ...mark!.toJSON(), instrumentId: null, text: "ff" }),
    );
    expect(await asked(flute)).toBeUndefined();
    const wrong = WritePencil.safeParse({ eventId: mark!.eventId, kind: "dynamic", text: "loud" });
    expect(wrong.error?.issues[0]?.message).toBe("Choose a dynamic from pp to ff.");
  });

  it("happens once", async () => {
    const plan = await lesson();
    await note(plan.director, plan.roomId, [
      noted({ kind: "star", bars: "", instruments: [] }, plan.strips[0]),
    ]);
    const both = await Promise.allSettled([close(plan, {}), close(plan, {})]);
    expect(both.filter(({ status }) => status === "fulfilled")).toHaveLength(1);
    expect(await StripRow.count({ where: { bandId: plan.director.bandId, date: day(3) } })).toBe(1);
    expect(await refusal(close(plan, {}))).toMatch(/closed already/);
    expect(await refusal(say(plan.director, plan.roomId, { kind: "next" }))).toMatch(/over/);
  });

  it("leaves strips of other classes as they are", async () => {
    const plan = await lesson();
    const other = await lesson();
    expect(await refusal(close(plan, { notReached: [other.strips[0]] }))).toMatch(/not on the run sheet/);
    expect((await Room.findByPk(plan.roomId))!.closedAt).toBeNull();
    expect(Boolean((await StripRow.findByPk(other.strips[0]))!.notReached)).toBe(false);
  });

  it("sends home what was played, at the tempo of the class, once", async () => {
    const { director, roomId, strips, groupId } = await lesson();
    await note(director, roomId, [noted({ kind: "tempo", bpm: 96 }, strips[0])]);
    const home = () => sendRoomHome(director, roomId, { blocks: [strips[0]], dueDate: day(3) });
    expect(await home()).toEqual({ tasks: 2, lines: ["Tune 1"], again: [] });
    expect(await home()).toEqual({ tasks: 0, lines: [], again: ["Tune 1"] });
    expect(await Task.count({ where: { bandId: director.bandId } })).toBe(2);
    // The bar that the class was to work on, as fast as it came.
    expect(await Assignment.findAll({ where: { bandId: director.bandId } })).toMatchObject([
      { goalBpm: 96, firstBar: 1, lastBar: 1, dueDate: day(3) },
    ]);
    expect(await refusal(sendRoomHome(director, roomId, { blocks: [strips[1]], dueDate: day(3) }))).toMatch(
      /Only lines with notes/,
    );
    expect((await roomLog(director, roomId)).next?.date).toBe(day(3));
    expect(groupId).toBe((await roomLog(director, roomId)).groupId);
  });
});

describe("a lesson that was closed", () => {
  it("can be opened again: what came in late reaches the plan, and what was wrong is set right", async () => {
    const plan = await lesson("Ab4:2 Gb4:2 | Db5:4");
    const { director, roomId, strips, flute, clarinet, groupId } = plan;
    const first = noted({ kind: "absent", playerId: flute.playerId }, null);
    await note(director, roomId, [first]);
    await close(plan, { taught: [strips[0]], notReached: [strips[2]] });
    expect((await roomLog(director, roomId)).late).toBe(false);
    const absent = async () =>
      (await Absence.findAll({ where: { groupId, date: day(1) } })).map(({ playerId }) => playerId);
    const taught = async () =>
      [
        ...new Set((await Taught.findAll({ where: { bandId: director.bandId } })).map((row) => row.playerId)),
      ].sort();
    expect([await absent(), await taught()]).toEqual([[flute.playerId], [clarinet.playerId]]);
    // The flute was there after all, the clarinet was not; a phone tells so late.
    await note(director, roomId, [
      { ...first, undone: true },
      noted({ kind: "absent", playerId: clarinet.playerId }, null),
      noted({ kind: "star", bars: "2", instruments: [] }, strips[0]),
    ]);
    expect((await roomLog(director, roomId)).late).toBe(true);
    await openAgain(director, roomId);
    expect(await close(plan, { taught: [strips[0]], notReached: [] })).toEqual({
      absent: 1,
      taught: 1,
      notReached: 0,
      starred: 1,
    });
    expect([await absent(), await taught()]).toEqual([[clarinet.playerId], [flute.playerId]]);
    expect(Boolean((await StripRow.findByPk(strips[2]))!.notReached)).toBe(false);
    const lessons = await Teaching.count({ where: { bandId: director.bandId } });
    // Once more without anything new: nothing is told twice.
    await openAgain(director, roomId);
    await close(plan, { taught: [strips[0]], notReached: [] });
    expect(await Teaching.count({ where: { bandId: director.bandId } })).toBe(lessons);
    expect(await StripRow.count({ where: { bandId: director.bandId, date: day(3) } })).toBe(1);
    expect((await roomLog(director, roomId)).late).toBe(false);
  });
});

describe("a lesson over several days", () => {
  const begun = async (director: Director, roomId: string, done: string[]) => {
    const { state, stateVersion } = await roomView(director, roomId);
    const kept = { state: { ...state, done, at: done.at(-1)! }, version: stateVersion + 1, heard: 0 };
    await keepState(director, roomId, KeepRoomState.parse(kept));
  };

  it("goes on with what was left, first of all; the day before it knows that it was done", async () => {
    const plan = await lesson();
    const { director, roomId, strips, groupId } = plan;
    await begun(director, roomId, [strips[0]]);
    const { id } = await openRoom(director, { groupId, date: day(3) });
    const [before] = await otherLessons(director, id);
    expect(before).toMatchObject({ date: day(1), groupName: "Winds" });
    expect(before!.blocks.map(({ title, left }) => [title, left])).toEqual([
      ["Tune 1", false],
      ["Posture", true],
      ["Tune 2", true],
    ]);
    await bringIn(director, id, { strips: [strips[2], strips[1]] });
    const { sheet, state } = await roomView(director, id);
    expect(sheet.blocks.map(({ title }) => title)).toEqual(["Tune 2", "Posture"]);
    expect(state.at).toBe(strips[2]);
    const room = (await Room.findByPk(id))!;
    expect((await notesFor(room, plan.lineIds[1]!, "clarinet")).svg).toContain("<svg");
    await begun(director, id, [strips[2]]);
    expect((await roomLog(director, roomId)).doneLater).toEqual([strips[2]]);
    // One that has begun goes on where it is; what is new comes last.
    await bringIn(director, id, { strips: [strips[1], strips[2], strips[0]] });
    expect((await roomView(director, id)).state).toMatchObject({
      at: strips[2],
      order: [strips[2], strips[1], strips[0]],
    });
  });

  it("is done with another group too, by somebody who stands in on both days; not with what is not theirs to see", async () => {
    const plan = await lesson();
    const { director, groupId, strips } = plan;
    const { code } = await makePass(director, { name: "Sub", from: day(3), to: day(8) });
    const standIn = (await roomActorOf((await passUsed(code)).token))!;
    const { id } = await openRoom(standIn, { groupId, date: day(3) });
    expect(await otherLessons(standIn, id)).toEqual([]);
    expect(await refusal(bringIn(standIn, id, { strips: [strips[0]] }))).toMatch(
      /no lesson that can be brought/,
    );
    expect(await refusal(bringIn(director, id, { strips: [crypto.randomUUID()] }))).toMatch(/no lesson/);
    const other = await lesson();
    expect(await refusal(bringIn(director, id, { strips: [other.strips[0]] }))).toMatch(/no lesson/);
    const wide = await makePass(director, { name: "Sub", from: day(1), to: day(8) });
    const both = (await roomActorOf((await passUsed(wide.code)).token))!;
    await bringIn(both, id, { strips: [strips[0]] });
    expect((await roomView(both, id)).sheet.blocks.map(({ title }) => title)).toEqual(["Tune 1"]);
  });
});

describe("somebody who stands in", () => {
  it("leads the lessons of some days, sees no others, and leaves a log", async () => {
    const { director, groupId, roomId, strips } = await lesson();
    const { code, id } = await makePass(director, { name: "Sub Stitute", from: day(3), to: day(8) });
    const standIn = (await roomActorOf((await passUsed(code.toLowerCase().replaceAll("-", " "))).token))!;
    expect(standIn).toMatchObject({ kind: "stand-in", name: "Sub Stitute" });
    expect(await refusal(roomView(standIn, roomId))).toMatch(/other days/);
    expect(await refusal(openRoom(standIn, { groupId, date: day(1) }))).toMatch(/other days/);
    const own = await openRoom(standIn, { groupId, date: day(3) });
    await note(standIn, own.id, [
      noted({ kind: "tag", tag: "better", bars: "", instruments: [] }, strips[0]),
    ]);
    expect(await roomLog(director, own.id)).toMatchObject({
      ledBy: "Sub Stitute",
      entries: [{ note: { tag: "better" } }],
    });
    expect(await refusal(say(standIn, own.id, { kind: "play" }))).toMatch(/own page/);
    for (const forbidden of [
      () => closeRoom(standIn, own.id, { taught: [], notReached: [], forNext: false }),
      () => sendRoomHome(standIn, own.id, { blocks: [strips[0]], dueDate: day(3) }),
      () => makePass(standIn, { name: "Another", from: day(3), to: day(3) }),
      () => setGoal(standIn, own.id, "Mine"),
      () => notedInClass(standIn, own.id),
    ])
      expect(await refusal(forbidden())).toMatch(/Only the band's director/);
    await shutPass(director, id);
    expect(await refusal(passUsed(code))).toMatch(/opens no lessons/);
  });

  it("is let in by no other band's code, and none that has run out", async () => {
    const { director } = await lesson();
    const { id, code } = await makePass(director, { name: "Late", from: day(-40), to: day(-36) });
    expect(await refusal(passUsed(code))).toMatch(/opens no lessons/);
    expect(await refusal(shutPass((await anotherBand()).director, id))).toMatch(/does not exist/);
    expect((await RoomPass.findByPk(id))!.shutAt).toBeNull();
    expect(await refusal(passUsed("no code"))).toMatch(/opens no lessons/);
  });
});

it("draws the lines of the lesson, and no other of the band", async () => {
  const { roomId, lineIds } = await lesson();
  const room = (await Room.findByPk(roomId))!;
  expect((await notesFor(room, lineIds[0]!, "clarinet")).svg).toContain("<svg");
  expect(await refusal(notesFor(room, lineIds[2]!, "clarinet"))).toMatch(/does not exist/);
});

describe("a lesson at home", () => {
  it("is for the players of its group, each with the own part and nobody else's name", async () => {
    const { director, roomId, flute, clarinet } = await lesson();
    expect(await refusal(lessonAtHome(flute, roomId))).toMatch(/does not exist/);
    await setAtHome(director, roomId, true);
    const view = await lessonAtHome(clarinet, roomId);
    expect(view.sheet.blocks[0]!.tune!.rows.map(({ labels }) => labels)).toEqual([["B♭ clarinet"]]);
    expect(view.sheet.players.map(({ name }) => name)).toEqual(["Cleo"]);
    expect(JSON.stringify(view)).not.toMatch(/Fia|slouches/);
    expect((await stand(flute)).lessons).toMatchObject([{ id: roomId }]);
    const outsider = await addTo(director, "Olaf", ["flute"]);
    expect(await refusal(lessonAtHome(outsider, roomId))).toMatch(/does not exist/);
    expect((await stand(outsider)).lessons).toEqual([]);
    expect(await refusal(lessonAtHome(director, roomId))).toMatch(/belongs to a player/);
    await setAtHome(director, roomId, false);
    expect(await refusal(lessonAtHome(clarinet, roomId))).toMatch(/does not exist/);
  });
});

describe("the list of lessons", () => {
  it("shows the classes of the next days, and to another band nothing of them", async () => {
    const { director, groupId, roomId } = await lesson();
    const { choices } = await roomStart(director);
    for (const choice of choices) expect(choice.groupId).toBe(groupId);
    const foreign = await anotherBand();
    await addGroup(foreign.director, { name: "Others" });
    expect((await roomStart(foreign.director)).choices).toEqual([]);
    expect(await refusal(roomView(foreign.director, roomId))).toMatch(/does not exist/);
    expect(await refusal(openRoom(foreign.director, { groupId, date: day(1) }))).toMatch(/does not exist/);
  });
});
