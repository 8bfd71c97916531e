import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { writeMusicXml } from "../../src/core/score";
import { Line, LineRevision, Task } from "../../src/data";
import type { Director, PlayerActor } from "../../src/services/actor";
import { assign } from "../../src/services/giving";
import { storeLine } from "../../src/services/lines";
import { stand, taskDetail } from "../../src/services/practice";
import {
  archivedLines,
  deleteLine,
  importLine,
  linePart,
  listLines,
  setLineRemoved,
  setOverride,
  shelfView,
} from "../../src/services/shelf";
import { addTo, anotherBand, type BandInDatabase, bandInDatabase, give } from "../support/band";
import { hostileMidi, hostileMusicXml } from "../support/hostile";
import { line } from "../support/music";

const tune = line("Bb4:1 C5:1 D5:2");
let band: BandInDatabase;
let director: Director;
let ada: PlayerActor;
beforeAll(async () => {
  band = await bandInDatabase();
  director = band.director;
  ada = await addTo(director, "Ada", ["horn"]);
});
afterAll(() => band.close());

const titles = async () => (await listLines(director)).map((each) => each.title).sort();

describe("a line off the shelf", () => {
  it("is archived and comes back with undo; whoever was given it keeps it", async () => {
    const { lineId } = await give(director, tune, band.fullBandId, { title: "Given" });
    await setLineRemoved(director, lineId, true);
    expect(await titles()).not.toContain("Given");
    expect((await stand(ada)).tasks.map((task) => task.lineTitle)).toContain("Given");
    expect(await archivedLines(director)).toMatchObject([{ id: lineId, title: "Given", given: true }]);
    await expect(
      assign(director, {
        lineId,
        groupId: band.fullBandId,
        goalBpm: 80,
        timesPerWeek: 3,
        dueDate: "2099-01-01",
        note: "",
      }),
    ).rejects.toThrow("This line is archived; put it back on the shelf before you give it.");
    await expect(deleteLine(director, lineId)).rejects.toThrow("it stays in the archive with what they sent");
    await setLineRemoved(director, lineId, false);
    expect(await titles()).toContain("Given");
    await setLineRemoved(director, lineId, true);
  });

  it("is deleted only when it is archived and nobody was ever given it", async () => {
    const { lineId } = await storeLine(director.bandId, tune, { fileName: "x", title: "Never given" });
    await expect(deleteLine(director, lineId)).rejects.toThrow("Archive this line first");
    await setLineRemoved(director, lineId, true);
    const stranger = (await anotherBand()).director;
    await expect(deleteLine(stranger, lineId)).rejects.toThrow("belongs to another band");
    await expect(setLineRemoved(stranger, lineId, false)).rejects.toThrow("belongs to another band");
    await expect(setLineRemoved(ada, lineId, true)).rejects.toThrow("Only the band's director");
    await deleteLine(director, lineId);
    expect(await Line.count({ where: { id: lineId } })).toBe(0);
    expect(await LineRevision.count({ where: { lineId } })).toBe(0);
  });
});

describe("a line that fails", () => {
  it("stands beside the others with its reason, and can be taken off", async () => {
    const { lineId, revisionId } = await storeLine(director.bandId, tune, {
      fileName: "x",
      title: "Damaged",
    });
    await storeLine(director.bandId, tune, { fileName: "x", title: "Sound" });
    const broken = structuredClone(tune);
    broken.parts[0].measures[0]!.events[1]!.duration = "9";
    // As an earlier version may have let it in: the row is there, with no outline.
    await LineRevision.update({ score: broken, outline: null }, { where: { id: revisionId } });
    const shelf = await shelfView(director);
    expect(shelf.broken).toMatchObject([
      { id: lineId, title: "Damaged", reason: "bar 1 holds 12 quarter notes, more than the 4 of 4/4" },
    ]);
    expect(shelf.lines.map((each) => each.title)).toContain("Sound");
    await setLineRemoved(director, lineId, true);
    expect((await shelfView(director)).broken).toEqual([]);
  });
});

describe("what is stored has been computed once", () => {
  it("with its outline, so that a shelf of another process reads and does not compute", async () => {
    const { lineId, revisionId } = await storeLine(director.bandId, tune, { fileName: "x", title: "Proved" });
    const { outline } = (await LineRevision.findByPk(revisionId))!;
    expect(outline).toMatchObject({ outline: { metre: "4/4", bars: 1 }, barNumbers: ["1"] });
    const revised = await setOverride(director, lineId, "horn", { octave: -1 });
    expect((await LineRevision.findByPk(revised.revisionId))!.outline).toMatchObject({
      glance: { line: {} },
    });
  });

  it.each([
    ...Object.entries(hostileMidi),
    ...Object.entries(hostileMusicXml),
  ])("or it is not stored: %s", async (_, [bytes, reason]) => {
    const before = await titles();
    await expect(importLine(director, { fileName: "hostile" }, bytes())).rejects.toThrow(reason);
    await expect(importLine(director, { fileName: "hostile" }, bytes())).rejects.toThrow(
      /^hostile was not imported\. /,
    );
    expect(await titles()).toEqual(before);
  });

  it("and no file says of itself that it is a warm-up or a counting page", async () => {
    const purposeful = { ...tune, purpose: { kind: "counting" as const, forms: ["no form"], system: null } };
    const bytes = new TextEncoder().encode(writeMusicXml(purposeful));
    const { lineId } = await importLine(director, { fileName: "x.musicxml" }, bytes);
    expect((await LineRevision.findOne({ where: { lineId } }))!.score.purpose).toBeUndefined();
  });
});

describe("a task", () => {
  it("keeps part, octave and stage it was given with, whatever changes later", async () => {
    const low = line("Bb3:1 C4:1 D4:2", { title: "Low" });
    const { lineId, assignmentId } = await give(director, low, band.fullBandId, { title: "Low" });
    const task = (await Task.findOne({ where: { assignmentId, playerId: ada.playerId } }))!;
    const before = await taskDetail(ada, task.id, "medium");
    expect(task).toMatchObject({ stage: "small-tunes", partId: "P1", octaveShift: before.part.octaveShift });
    await band.db.query("UPDATE players SET stage = 'widening'");
    await setOverride(director, lineId, "horn", { octave: before.part.octaveShift + 1 });
    expect((await linePart(director, lineId, "horn", "widening", "medium")).octaveShift).toBe(
      before.part.octaveShift + 1,
    );
    const after = await taskDetail(ada, task.id, "medium");
    expect(after.score).toEqual(before.score);
    expect(after.part.octaveShift).toBe(before.part.octaveShift);
  });
});
