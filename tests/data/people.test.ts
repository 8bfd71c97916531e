import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Group, GroupMember, Player, PlayerInstrument, Session, Take, Task } from "../../src/data";
import { openDirector, signInStudent } from "../../src/services/accounts";
import type { Director, PlayerActor } from "../../src/services/actor";
import {
  addGroup,
  archiveGroup,
  bandOverview,
  changeGroup,
  drawCards,
  editPlayers,
  importRoster,
  lookAtRoster,
  restoreGroup,
  rosterFile,
  setMembers,
  undoChange,
  undoDraw,
} from "../../src/services/band";
import type { PlayerEdit } from "../../src/services/band/schema";
import { giveEarlier, setWithdrawn } from "../../src/services/giving";
import { teachThings } from "../../src/services/knowledge";
import { reviewTake } from "../../src/services/listening";
import { stand } from "../../src/services/practice";
import { addTo, anotherBand, type BandInDatabase, bandInDatabase, give, takeOf } from "../support/band";
import { line } from "../support/music";

let band: BandInDatabase;
beforeAll(async () => {
  band = await bandInDatabase();
});
afterAll(() => band.close());

const tune = line("Bb4:1 C5:1 D5:2 | Eb5:4");
const drums = line("Bb4:1 C5:1 D5:2 | Eb5:4");
drums.parts[0].clef = "percussion";
for (const measure of drums.parts[0].measures) for (const event of measure.events) delete event.pitch;

const edit = (director: Director, playerId: string, field: PlayerEdit["field"], was: unknown, is: unknown) =>
  editPlayers(director, { changes: [{ playerId, field, was, is } as PlayerEdit] });
const draw = (director: Director, ids: string[], drawId = crypto.randomUUID()) =>
  drawCards(director, { drawId, playerIds: ids });
const titles = async (player: PlayerActor) =>
  (await stand(player)).tasks.map(({ lineTitle }) => lineTitle).sort();
const row = async (director: Director, playerId: string) => {
  const { players, gone } = await bandOverview(director);
  return [...players, ...gone].find(({ id }) => id === playerId)!;
};

describe("the table of players", () => {
  it("changes cells of several players as one step, and takes it back and again", async () => {
    const { director } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const bo = await addTo(director, "Bo", ["tuba"]);
    const changed = await editPlayers(director, {
      changes: [
        { playerId: ada.playerId, field: "stage", was: "small-tunes", is: "widening" },
        { playerId: bo.playerId, field: "stage", was: "small-tunes", is: "widening" },
        { playerId: bo.playerId, field: "kit", was: "", is: "mouthpiece 24" },
      ],
    });
    expect((await row(director, bo.playerId)).kit).toBe("mouthpiece 24");
    expect((await bandOverview(director)).lastChange).toEqual({ id: changed.changeId, said: changed.said });
    const undone = await undoChange(director, changed.changeId);
    expect((await bandOverview(director)).players.map(({ stage }) => stage)).toEqual([
      "small-tunes",
      "small-tunes",
    ]);
    await undoChange(director, undone.changeId);
    expect((await row(director, ada.playerId)).stage).toBe("widening");
    await expect(undoChange(director, undone.changeId)).rejects.toThrow("This was taken back already.");
  });

  it("tells the later of two directors what the other changed, and changes nothing of theirs", async () => {
    const { director } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const second: Director = { ...director, name: "Second" };
    await edit(director, ada.playerId, "stage", "small-tunes", "widening");
    // Another cell of the same row is no conflict.
    await edit(second, ada.playerId, "kit", "", "reed 2");
    const stale = editPlayers(second, {
      changes: [
        { playerId: ada.playerId, field: "calledName", was: "", is: "Addi" },
        { playerId: ada.playerId, field: "stage", was: "small-tunes", is: "five-notes" },
      ],
    });
    await expect(stale).rejects.toMatchObject({
      code: "conflict",
      message: /Ada's stage was changed in the meantime/,
    });
    expect(await row(director, ada.playerId)).toMatchObject({
      stage: "widening",
      kit: "reed 2",
      calledName: "",
    });
    // Wanting what the other did already is no conflict either.
    await edit(second, ada.playerId, "stage", "small-tunes", "widening");
  });

  it("gives both a turn when they send at the same moment", async () => {
    const { director } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const outcomes = await Promise.allSettled(
      ["a", "b", "c", "d"].map((kit) => edit(director, ada.playerId, "kit", "", kit)),
    );
    expect(outcomes.filter(({ status }) => status === "fulfilled")).toHaveLength(1);
  });

  it("takes nothing back that was changed since", async () => {
    const { director } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const first = await edit(director, ada.playerId, "kit", "", "one");
    await edit(director, ada.playerId, "kit", "one", "two");
    await expect(undoChange(director, first.changeId)).rejects.toThrow("Ada was changed since");
    expect((await row(director, ada.playerId)).kit).toBe("two");
  });

  it("keeps a changed instrument's dates, and begins a strange one at making a sound", async () => {
    const { director } = await anotherBand();
    const cleo = await addTo(director, "Cleo", ["clarinet"]);
    await PlayerInstrument.update({ fromDate: "2026-01-01" }, { where: { playerId: cleo.playerId } });
    await edit(director, cleo.playerId, "instruments", ["clarinet"], ["trumpet"]);
    const rows = await PlayerInstrument.findAll({
      where: { playerId: cleo.playerId },
      order: [["fromDate", "ASC"]],
    });
    expect(rows.map(({ instrumentId, toDate, stage }) => [instrumentId, toDate !== null, stage])).toEqual([
      ["clarinet", true, null],
      ["trumpet", false, "making-a-sound"],
    ]);
    // The bass clarinet is of the family: the stage goes with the player.
    const dora = await addTo(director, "Dora", ["clarinet"]);
    await edit(director, dora.playerId, "instruments", ["clarinet"], ["clarinet-bass"]);
    expect((await row(director, dora.playerId)).stages).toEqual({});
  });
});

describe("homework follows its people", () => {
  it("comes with a group, goes with it, and comes back; what was sent stays", async () => {
    const { director } = await anotherBand();
    const { groupId: reeds } = await addGroup(director, { name: "Reeds" });
    const { groupId: brass } = await addGroup(director, { name: "Brass" });
    const wren = await addTo(director, "Wren", ["flute"], "small-tunes", [reeds]);
    await addTo(director, "Tom", ["trombone"], "small-tunes", [brass]);
    const forReeds = await give(director, tune, reeds, { title: "Reeds tune" });
    await give(director, tune, brass, { title: "Brass tune" });
    const sent = await give(director, tune, reeds, { title: "Sent" });
    const takeId = await takeOf(wren, sent.assignmentId);
    expect(await titles(wren)).toEqual(["Reeds tune", "Sent"]);

    await edit(director, wren.playerId, "groupIds", [reeds], [brass]);
    expect(await titles(wren)).toEqual(["Brass tune", "Sent"]);
    expect(await Take.count({ where: { id: takeId } })).toBe(1);
    // Asked again after the move: the group's work is not this player's any more.
    await reviewTake(director, takeId, { decision: "again", comment: "once more", marks: {} });
    expect(await titles(wren)).toEqual(["Brass tune"]);

    await edit(director, wren.playerId, "groupIds", [brass], [reeds]);
    expect(await titles(wren)).toEqual(["Reeds tune", "Sent"]);
    const own = await Task.findOne({
      where: { playerId: wren.playerId, assignmentId: forReeds.assignmentId },
    });
    expect(own!.closedAt).toBeNull();
    expect(
      await GroupMember.count({ where: { playerId: wren.playerId, groupId: brass, toDate: null } }),
    ).toBe(0);
  });

  it("is what is still due for a newcomer, and the director chooses what else", async () => {
    const { director, fullBandId } = await anotherBand();
    await addTo(director, "Old", ["flute"]);
    const past = await give(director, tune, fullBandId, { title: "Past" });
    await give(director, tune, fullBandId, { title: "Due" });
    const { Assignment } = await import("../../src/data");
    await Assignment.update({ dueDate: "2026-01-08" }, { where: { id: past.assignmentId } });
    const late = await addTo(director, "Late", ["horn"]);
    expect(await titles(late)).toEqual(["Due"]);
    await giveEarlier(director, past.assignmentId, late.playerId);
    expect(await titles(late)).toEqual(["Due", "Past"]);
    const elsewhere = await addTo((await anotherBand()).director, "Other", ["horn"]);
    await expect(giveEarlier(director, past.assignmentId, elsewhere.playerId)).rejects.toThrow(
      /belongs to another band/,
    );
  });

  it("goes with the leaver, comes back with the one who returns, and skips whom it is not for", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    await addTo(director, "Sid", ["snare"]);
    await GroupMember.update({ fromDate: "2026-01-01" }, { where: { playerId: ada.playerId } });
    await give(director, tune, fullBandId, { title: "Tune" });
    await give(director, drums, fullBandId, { title: "Drums" });
    expect(await titles(ada)).toEqual(["Tune"]);
    await edit(director, ada.playerId, "left", false, true);
    expect(await titles(ada)).toEqual([]);
    expect((await bandOverview(director)).gone.map(({ name }) => name)).toEqual(["Ada"]);
    await give(director, tune, fullBandId, { title: "While away" });
    await edit(director, ada.playerId, "left", true, false);
    expect(await titles(ada)).toEqual(["Tune", "While away"]);
  });

  it("follows a new instrument, with the old work closed and the old takes kept", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const { assignmentId } = await give(director, tune, fullBandId);
    await edit(director, ada.playerId, "instruments", ["flute"], ["oboe"]);
    const tasks = await Task.findAll({ where: { playerId: ada.playerId, assignmentId } });
    expect(tasks.map(({ instrumentId, closedAt }) => [instrumentId, closedAt !== null]).sort()).toEqual([
      ["flute", true],
      ["oboe", false],
    ]);
  });

  it("comes to those who joined while it was taken back", async () => {
    const { director, fullBandId } = await anotherBand();
    await addTo(director, "Ada", ["flute"]);
    const { assignmentId } = await give(director, tune, fullBandId, { title: "Back" });
    await setWithdrawn(director, assignmentId, true);
    const bo = await addTo(director, "Bo", ["flute"]);
    expect(await titles(bo)).toEqual([]);
    await setWithdrawn(director, assignmentId, false);
    expect(await titles(bo)).toEqual(["Back"]);
  });
});

describe("groups", () => {
  it("by a rule have its players at once and ever after, and leave go of who plays it no more", async () => {
    const { director } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const { groupId } = await addGroup(director, { name: "Flutes", rule: ["flute", "piccolo"] });
    const members = async () =>
      (await bandOverview(director)).groups.find(({ id }) => id === groupId)!.players;
    expect(await members()).toBe(1);
    await addTo(director, "Pia", ["piccolo"]);
    expect(await members()).toBe(2);
    await edit(director, ada.playerId, "instruments", ["flute"], ["oboe"]);
    expect(await members()).toBe(1);
    await changeGroup(director, groupId, { name: "Winds", rule: ["oboe"] });
    expect(await members()).toBe(1);
    await expect(setMembers(director, groupId, { playerIds: [] })).rejects.toThrow("follow its rule");
  });

  it("are archived and come back by undo with everybody in them", async () => {
    const { director } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const { groupId } = await addGroup(director, { name: "Trio" });
    await setMembers(director, groupId, { playerIds: [ada.playerId] });
    await give(director, tune, groupId, { title: "For three" });
    const { changeId } = await archiveGroup(director, groupId);
    expect(await titles(ada)).toEqual([]);
    await undoChange(director, changeId);
    expect(await titles(ada)).toEqual(["For three"]);
    await archiveGroup(director, groupId);
    await expect(addGroup(director, { name: "Trio" })).rejects.toThrow("perhaps an archived one");
    await restoreGroup(director, groupId);
    expect((await bandOverview(director)).groups.map(({ name }) => name)).toContain("Trio");
  });

  it("of everybody stay as they are", async () => {
    const { director, fullBandId } = await anotherBand();
    await expect(archiveGroup(director, fullBandId)).rejects.toThrow("cannot be archived");
    await expect(changeGroup(director, fullBandId, { name: "All", rule: ["flute"] })).rejects.toThrow(
      "for some instruments only",
    );
    await changeGroup(director, fullBandId, { name: "Everybody", rule: [] });
    await addTo(director, "Ada", ["flute"]);
    expect((await bandOverview(director)).groups[0]).toMatchObject({ name: "Everybody", players: 1 });
  });
});

describe("a list of players", () => {
  const list = (rows: number) =>
    `Name\tInstrument\tGroup\n${Array.from({ length: rows }, (_, i) => `Player Number${i}\t${["flute", "clarinet", "horn", "bells and snare"][i % 4]}\t${["Reeds", "Reeds", "Brass", "Drums"][i % 4]}`).join("\n")}`;

  it("of 150 rows comes in as one step, the second time changes nothing, and undo takes it all out", async () => {
    const { director, fullBandId } = await anotherBand();
    await addTo(director, "Here Already", ["tuba"]);
    await give(director, tune, fullBandId);
    const text = list(150);
    const look = await lookAtRoster(director, { text });
    expect(look.rows.every(({ act }) => act === "add")).toBe(true);
    expect(look.newGroups.sort()).toEqual(["Brass", "Drums", "Reeds"]);
    expect(await Player.count({ where: { bandId: director.bandId } })).toBe(1);
    const done = await importRoster(director, { text, choices: {}, instruments: {}, stage: "five-notes" });
    expect(done).toMatchObject({ added: 150, changed: 0, leftOut: 0 });
    const { players, groups } = await bandOverview(director);
    expect(players).toHaveLength(151);
    expect(groups.find(({ name }) => name === "Reeds")!.players).toBe(76);
    expect(await Task.count({ where: { bandId: director.bandId } })).toBe(151);
    const again = await importRoster(director, { text, choices: {}, instruments: {}, stage: "five-notes" });
    expect(again).toMatchObject({ added: 0, changed: 0, same: 150 });
    await undoChange(director, again.changeId);
    await undoChange(director, done.changeId);
    const after = await bandOverview(director);
    expect(after.players.map(({ name }) => name)).toEqual(["Here Already"]);
    expect(after.groups.map(({ name }) => name)).toEqual(["Full Band"]);
    expect(await Task.count({ where: { bandId: director.bandId } })).toBe(1);
  });

  it("follows what a person chose, and leaves doubtful rows out without a word", async () => {
    const { director } = await anotherBand();
    await addTo(director, "Ines Haldorsen", ["clarinet"]);
    const text = "Name,Instrument\nInes Haldorson,clarinet\nBo Lind,kazoo\nCy Fix,tuba\nCy Fix,tuba";
    const plain = await importRoster(director, { text, choices: {}, instruments: {}, stage: "five-notes" });
    expect(plain).toMatchObject({ added: 1, leftOut: 3 });
    const ines = (await bandOverview(director)).players.find(({ name }) => name.startsWith("Ines"))!;
    const chosen = await importRoster(director, {
      text,
      choices: { "2": ines.id, "5": "add" },
      instruments: { "3": "trumpet" },
      stage: "making-a-sound",
    });
    expect(chosen).toMatchObject({ added: 2, same: 2 });
    const { players } = await bandOverview(director);
    expect(players.map(({ name, instruments, stage }) => [name, instruments[0], stage]).sort()).toEqual([
      ["Bo Lind", "trumpet", "making-a-sound"],
      ["Cy Fix", "tuba", "five-notes"],
      ["Cy Fix", "tuba", "making-a-sound"],
      ["Ines Haldorsen", "clarinet", "small-tunes"],
    ]);
  });

  it("goes out in the shape in which it comes in", async () => {
    const { director } = await anotherBand();
    const { groupId } = await addGroup(director, { name: "Low & Slow" });
    const bo = await addTo(director, '=Bo; the "Tuba"', ["tuba"], "widening", [groupId]);
    await edit(director, bo.playerId, "part", null, "bass");
    const { bytes } = await rosterFile(director);
    const text = new TextDecoder().decode(bytes);
    expect((await lookAtRoster(director, { text })).rows).toMatchObject([
      { act: "same", name: '=Bo; the "Tuba"' },
    ]);
  });
});

describe("cards", () => {
  it("drawn anew end the old ones and their sign-ins, and are taken back within a minute", async () => {
    const { director } = await anotherBand();
    const ada = await addTo(director, "Ada Card", ["flute"]);
    const [first] = await draw(director, [ada.playerId]);
    const signIn = (words: string) => signInStudent({ classCode: first!.classCode, name: "ada card", words });
    await signIn(first!.words);
    const drawId = crypto.randomUUID();
    const [second] = await draw(director, [ada.playerId], drawId);
    await expect(signIn(first!.words)).rejects.toThrow(/do not fit together/);
    expect(await Session.count({ where: { playerId: ada.playerId, endedBy: null } })).toBe(0);
    await signIn(second!.words);
    expect(await undoDraw(director, drawId)).toEqual({ players: 1 });
    // The session of before goes on, that of the new card has ended.
    expect(await Session.count({ where: { playerId: ada.playerId, endedBy: null } })).toBe(1);
    await signIn(first!.words);
    await expect(signIn(second!.words)).rejects.toThrow(/do not fit together/);
    await expect(undoDraw(director, drawId)).rejects.toThrow(/does not exist/);
  });

  it("of a draw in several calls are taken back as one, and not after a minute", async () => {
    const { director } = await anotherBand();
    const players = await Promise.all(
      ["A", "B", "C"].map((name) => addTo(director, `Card ${name}`, ["flute"])),
    );
    const drawId = crypto.randomUUID();
    for (const { playerId } of players) await draw(director, [playerId], drawId);
    const stranger = (await anotherBand()).director;
    await expect(undoDraw(stranger, drawId)).rejects.toThrow(/belongs to another band/);
    const { CardDraw } = await import("../../src/data");
    await CardDraw.update({ createdAt: new Date(Date.now() - 120_000) }, { where: { id: drawId } });
    await expect(undoDraw(director, drawId)).rejects.toThrow("A minute has passed");
    await CardDraw.update({ createdAt: new Date() }, { where: { id: drawId } });
    expect(await undoDraw(director, drawId)).toEqual({ players: 3 });
    expect((await bandOverview(director)).players.some(({ hasCard }) => hasCard)).toBe(false);
  });

  it("tell two children of one name apart, and let a child type what it is called", async () => {
    const { director } = await anotherBand();
    const one = await addTo(director, "Ada Holm", ["flute"]);
    const two = await addTo(director, "Ada Holm", ["tuba"]);
    await edit(director, two.playerId, "calledName", "", "Addi");
    const [cardOne] = await draw(director, [one.playerId]);
    const [cardTwo] = await draw(director, [two.playerId]);
    const signIn = (name: string, words: string) =>
      signInStudent({ classCode: cardOne!.classCode, name, words });
    const holders = async () =>
      (await Session.findAll({ where: { bandId: director.bandId }, order: [["created_at", "ASC"]] })).map(
        ({ playerId }) => playerId,
      );
    await signIn("Ada Holm", cardTwo!.words);
    await signIn("Ada Holm", cardOne!.words);
    await signIn("addi", cardTwo!.words);
    expect(await holders()).toEqual([two.playerId, one.playerId, two.playerId]);
    await expect(signIn("Addi", cardOne!.words)).rejects.toThrow(/do not fit together/);
  });

  it("of one who left open nothing, nor do their sign-ins", async () => {
    const { director } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const [card] = await draw(director, [ada.playerId]);
    await edit(director, ada.playerId, "left", false, true);
    await expect(
      signInStudent({ classCode: card!.classCode, name: "Ada", words: card!.words }),
    ).rejects.toThrow();
    expect(await openDirector({ userId: director.userId, bandId: director.bandId })).toHaveProperty("token");
  });
});

describe("many acts at one moment", () => {
  it("are all answered: none waits for another in a circle, nor for a connection that none gives back", async () => {
    const { director, fullBandId } = await anotherBand();
    const players = [];
    for (let i = 0; i < 8; i++) players.push(await addTo(director, `Player ${i}`, ["flute"]));
    const { assignmentId } = await give(director, tune, fullBandId);
    const takes = await Promise.all(players.map((player) => takeOf(player, assignmentId)));
    const acts = players.flatMap(({ playerId }, i) => [
      edit(director, playerId, "kit", "", `reed ${i}`),
      edit(director, playerId, "instruments", ["flute"], ["oboe"]),
      reviewTake(director, takes[i]!, { decision: "accepted", comment: "", marks: { notes: 3 } }),
      draw(director, [playerId]),
      teachThings(director, {
        groupId: null,
        playerId,
        instrumentId: null,
        things: [{ kind: "rhythm", thing: "triplet" }],
        on: "2026-01-01",
      }),
      give(director, tune, fullBandId),
    ]);
    const outcomes = await Promise.allSettled(acts);
    expect(outcomes.flatMap((each) => (each.status === "rejected" ? [String(each.reason)] : []))).toEqual([]);
    const { players: after } = await bandOverview(director);
    expect(
      after.map(({ kit, instruments, hasCard }) => [kit.startsWith("reed"), instruments[0], hasCard]),
    ).toEqual(players.map(() => [true, "oboe", true]));
  });
});

describe("homework given between a change and its undo", () => {
  it("follows the undo: who plays the old instrument again has it on that, and nothing on the other", async () => {
    const { director, fullBandId } = await anotherBand();
    const ada = await addTo(director, "Ada", ["flute"]);
    const swap = await edit(director, ada.playerId, "instruments", ["flute"], ["clarinet"]);
    const { assignmentId } = await give(director, tune, fullBandId);
    await undoChange(director, swap.changeId);
    const tasks = await Task.findAll({ where: { assignmentId, closedAt: null } });
    expect(tasks.map(({ instrumentId }) => instrumentId)).toEqual(["flute"]);
  });
});

describe("a year of changes", () => {
  const names = ["Ada", "Bo", "Cy", "Dee", "Eve"];
  const INSTRUMENTS = ["flute", "clarinet", "horn", "snare"];
  type Act =
    | { kind: "move"; who: number; to: number[] }
    | { kind: "leave" | "return" | "undo"; who: number }
    | { kind: "swap"; who: number; to: number }
    | { kind: "give"; group: number }
    | { kind: "take"; who: number }
    | { kind: "review"; who: number; accept: boolean }
    | { kind: "withdraw"; back: boolean }
    | { kind: "archive"; group: number };
  const act: fc.Arbitrary<Act> = fc.oneof(
    fc.record({ kind: fc.constant("move" as const), who: fc.nat(4), to: fc.subarray([0, 1]) }),
    fc.record({
      kind: fc.constantFrom("leave" as const, "return" as const, "undo" as const),
      who: fc.nat(4),
    }),
    fc.record({ kind: fc.constant("swap" as const), who: fc.nat(4), to: fc.nat(3) }),
    fc.record({ kind: fc.constant("give" as const), group: fc.nat(2) }),
    fc.record({ kind: fc.constant("take" as const), who: fc.nat(4) }),
    fc.record({ kind: fc.constant("review" as const), who: fc.nat(4), accept: fc.boolean() }),
    fc.record({ kind: fc.constant("withdraw" as const), back: fc.boolean() }),
    fc.record({ kind: fc.constant("archive" as const), group: fc.nat(1) }),
  );

  it("loses no take, mark or task that was begun, and leaves nobody work of a group left", async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 6, maxLength: 14 }), async (acts) => {
        const { director, fullBandId } = await anotherBand();
        const groupIds = [
          (await addGroup(director, { name: "One" })).groupId,
          (await addGroup(director, { name: "Two" })).groupId,
        ];
        const people: PlayerActor[] = [];
        for (const [i, name] of names.entries())
          people.push(await addTo(director, name, [INSTRUMENTS[i % 4]!], "small-tunes", [groupIds[i % 2]!]));
        const takes: string[] = [];
        const reviewed: string[] = [];
        const given: string[] = [];
        const changes: string[] = [];
        const doing = async (each: Act): Promise<void> => {
          const who = "who" in each ? people[each.who]! : null;
          const now = who && (await row(director, who.playerId));
          const changed = async (work: Promise<{ changeId: string }>) =>
            void changes.push((await work).changeId);
          switch (each.kind) {
            case "move":
              return changed(
                edit(
                  director,
                  who!.playerId,
                  "groupIds",
                  now!.groupIds,
                  each.to.map((i) => groupIds[i]!),
                ),
              );
            case "leave":
            case "return":
              return changed(
                edit(director, who!.playerId, "left", now!.leftOn !== null, each.kind === "leave"),
              );
            case "undo": {
              const last = changes.pop();
              if (last) await undoChange(director, last);
              return;
            }
            case "swap":
              return changed(
                edit(director, who!.playerId, "instruments", now!.instruments, [INSTRUMENTS[each.to]!]),
              );
            case "give":
              given.push((await give(director, tune, [...groupIds, fullBandId][each.group]!)).assignmentId);
              return;
            case "take": {
              const task = await Task.findOne({ where: { playerId: who!.playerId, closedAt: null } });
              if (task) takes.push(await takeOf(who!, task.assignmentId));
              return;
            }
            case "review": {
              const take = await Take.findOne({ where: { playerId: who!.playerId } });
              if (!take) return;
              await reviewTake(director, take.id, {
                decision: each.accept ? "accepted" : "again",
                comment: "",
                marks: { notes: 3 },
              });
              reviewed.push(take.id);
              return;
            }
            case "withdraw": {
              const last = given.at(-1);
              if (last) await setWithdrawn(director, last, !each.back);
              return;
            }
            case "archive":
              return changed(archiveGroup(director, groupIds[each.group]!));
          }
        };
        const { ServiceError } = await import("../../src/services/actor");
        for (const each of acts) {
          const begun = (await Task.findAll({ where: { bandId: director.bandId } })).map(({ id }) => id);
          await doing(each).catch((error: unknown) => {
            // A refusal with its sentence is an answer; anything else is a fault.
            if (!(error instanceof ServiceError)) throw error;
          });
          const after = new Set(
            (await Task.findAll({ where: { bandId: director.bandId } })).map(({ id }) => id),
          );
          expect(begun.filter((id) => !after.has(id))).toEqual([]);
        }
        const { Review, Mark, Assignment } = await import("../../src/data");
        expect(await Take.count({ where: { id: takes } })).toBe(takes.length);
        expect(await Review.count({ where: { takeId: [...new Set(reviewed)] } })).toBe(
          new Set(reviewed).size,
        );
        expect(await Mark.count({ where: { takeId: [...new Set(reviewed)] } })).toBe(new Set(reviewed).size);
        for (const { playerId } of people) {
          const player = (await Player.findByPk(playerId))!;
          const open = await Task.findAll({ where: { playerId, closedAt: null, state: ["open", "again"] } });
          for (const task of open) {
            const { groupId } = (await Assignment.findByPk(task.assignmentId))!;
            const member = await GroupMember.count({ where: { playerId, groupId, toDate: null } });
            const plays = await PlayerInstrument.count({
              where: { playerId, instrumentId: task.instrumentId, toDate: null },
            });
            const archived = (await Group.findByPk(groupId))!.archivedAt !== null;
            expect({ left: player.leftOn, member, plays, archived }).toEqual({
              left: null,
              member: 1,
              plays: 1,
              archived: false,
            });
          }
        }
      }),
      { numRuns: 12, interruptAfterTimeLimit: 60_000 },
    );
  }, 120_000);
});
