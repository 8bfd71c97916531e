import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { formId, readForm, USUAL_COURSE, USUAL_PAGE } from "../../src/core/rhythm";
import { type Routine, usualBlock } from "../../src/core/warmup";
import { Assignment, LineRevision, Task } from "../../src/data";
import type { Director } from "../../src/services/actor";
import {
  chooseSystem,
  countingSystems,
  courseDetail,
  drillDetail,
  drillPage,
  giveDrill,
  listDrills,
  MakeDrill,
  makeCourse,
  makeDrill,
  markMissed,
  openDay,
  saveDrill,
  saveSystem,
  setDrillRemoved,
} from "../../src/services/counting";
import { stand, taskDetail } from "../../src/services/practice";
import { listLines } from "../../src/services/shelf";
import {
  bandSeats,
  createRoutine,
  giveBlock,
  listRoutines,
  printedRoutine,
  RoutineContent,
  routineDetail,
  routineVersion,
  saveRoutine,
  setRoutineRemoved,
} from "../../src/services/warmups";
import { weekView } from "../../src/services/week";
import { addTo, type BandInDatabase, bandInDatabase } from "../support/band";

let band: BandInDatabase;
let director: Director;
let groupId: string;
beforeAll(async () => {
  band = await bandInDatabase();
  ({ director, fullBandId: groupId } = band);
}, 120_000);
afterAll(() => band.close());

const routine = (changes: Partial<Routine> = {}): Routine => ({
  title: "Morning",
  blocks: [
    usualBlock("breathing", "b1"),
    usualBlock("slurs", "b2", { steps: 2 }),
    usualBlock("long-tones", "b3", { degrees: [1] }),
  ],
  changeoverSec: 10,
  budgetSec: 600,
  pieceBpm: 90,
  ...changes,
});
const giving = () => ({ groupId, goalBpm: 80, timesPerWeek: 5, dueDate: "2099-01-01", note: "" });

describe("routines", () => {
  it("are kept in versions; the same again makes none, a stale save is refused and loses nothing", async () => {
    const { id } = await createRoutine(director, { content: routine() });
    const changed = routine({ title: "Evening", budgetSec: 300 });
    expect(await saveRoutine(director, id, { basedOn: 1, content: changed })).toEqual({ version: 2 });
    expect(await saveRoutine(director, id, { basedOn: 2, content: changed })).toEqual({ version: 2 });
    await expect(saveRoutine(director, id, { basedOn: 1, content: routine() })).rejects.toThrow(
      "at version 2",
    );
    const detail = await routineDetail(director, id);
    expect(detail.content).toEqual(changed);
    expect(detail.versions.map((version) => version.number)).toEqual([2, 1]);
    expect((await routineVersion(director, id, 1)).content).toEqual(routine());
    const listed = (await listRoutines(director)).find((each) => each.id === id)!;
    expect(listed).toMatchObject({ title: "Evening", blocks: 3, version: 2 });
    await setRoutineRemoved(director, id, true);
    expect((await listRoutines(director)).some((each) => each.id === id)).toBe(false);
    await setRoutineRemoved(director, id, false);
    expect((await listRoutines(director)).some((each) => each.id === id)).toBe(true);
  });

  it("refuse impossible settings with a sentence for each", () => {
    const wrong = (block: object) =>
      RoutineContent.safeParse(routine({ blocks: [{ ...usualBlock("slurs", "x"), ...block } as never] }))
        .error?.issues[0]?.message;
    expect(wrong({ steps: 9 })).toBe("Steps: a whole number from 1 to 7.");
    expect(wrong({ tempo: { kind: "fixed", bpm: 500 } })).toBe(
      "Tempo in beats a minute: a whole number from 30 to 240.",
    );
    expect(wrong({ values: [] })).toBe("Choose at least one note value.");
    expect(RoutineContent.safeParse(routine()).success).toBe(true);
  });

  it("give every player their own instrument's and stage's part, and keep it when they move on", async () => {
    const trumpet = await addTo(director, "Tru Mpet", ["trumpet"], "small-tunes", [groupId]);
    const clarinet = await addTo(director, "Clar Inet", ["clarinet"], "widening", [groupId]);
    const drummer = await addTo(director, "Dru Mmer", ["snare"], "small-tunes", [groupId]);
    const { id } = await createRoutine(director, { content: routine() });
    const given = await giveBlock(director, id, { ...giving(), blockId: "b2" });
    expect(given.leftOut).toEqual([]);
    const tasks = await Task.findAll({ where: { assignmentId: given.assignmentId } });
    expect(tasks.find((task) => task.playerId === trumpet.playerId)!.partId).toBe("trumpet/small-tunes");
    const own = async (player: typeof trumpet) => {
      const { tasks: all } = await stand(player);
      const task = all.find((each) => each.lineTitle === "Slurs: lip, register, octave")!;
      return taskDetail(player, task.id, "narrow");
    };
    const names = (detail: Awaited<ReturnType<typeof own>>) =>
      detail.part.noteList.slice(0, 2).map((note) => note.name);
    expect(names(await own(trumpet))).toEqual(["G4", "C4"]);
    expect(names(await own(clarinet))).toEqual(["C4", "G5"]);
    expect(names(await own(drummer))).toEqual(["stroke", "stroke"]);
    // The score that is assessed is the score that is shown.
    const { score } = await own(clarinet);
    expect(score.purpose).toEqual({ kind: "warm-up", family: "slurs" });
    expect(score.parts[0].name).toBe("B♭ clarinet");
    // What was given is on the week and not among the lines of the book.
    expect((await weekView(director)).items.some((item) => item.lineTitle.startsWith("Slurs"))).toBe(true);
    expect((await listLines(director)).some((line) => line.title.startsWith("Slurs"))).toBe(false);
    await expect(giveBlock(director, id, { ...giving(), blockId: "b1" })).rejects.toThrow(
      "nothing to record",
    );
    await expect(giveBlock(director, id, { ...giving(), blockId: "b9" })).rejects.toThrow("does not exist");
    await expect(
      giveBlock(director, id, { ...giving(), blockId: "b2", dueDate: "2020-01-01" }),
    ).rejects.toThrow("already passed");
  });

  it("store no line when giving fails", async () => {
    const { id } = await createRoutine(director, { content: routine() });
    const before = await LineRevision.count({ where: { bandId: director.bandId } });
    await expect(
      giveBlock(director, id, { ...giving(), blockId: "b2", dueDate: "2020-01-01" }),
    ).rejects.toThrow();
    expect(await LineRevision.count({ where: { bandId: director.bandId } })).toBe(before);
  });

  it("print one sheet for each kind of player, without blocks their group sits out", async () => {
    const blocks = routine().blocks.map((block) =>
      block.id === "b2" ? { ...block, mutedFor: [groupId] } : block,
    );
    const { id } = await createRoutine(director, { content: routine({ blocks }) });
    const seats = await bandSeats(director);
    expect(seats.map((seat) => seat.instrumentId).sort()).toEqual(["clarinet", "snare", "trumpet"]);
    const { sheets } = await printedRoutine(director, id, groupId, "set");
    expect(sheets.map((sheet) => sheet.player.name)).toEqual([
      "B♭ clarinet, widening",
      "Trumpet, small tunes",
      "Snare drum, small tunes",
    ]);
    for (const sheet of sheets)
      expect((await sheet.blocks()).map(({ block }) => block.family)).toEqual(["breathing", "long-tones"]);
    expect((await printedRoutine(director, id, groupId, "wall")).sheets).toEqual([]);
  });
});

describe("counting pages", () => {
  const making = (changes: object = {}) =>
    MakeDrill.parse({
      title: "Page",
      settings: { ...USUAL_PAGE, seed: 5 },
      bpm: 80,
      loops: 2,
      system: "numbers",
      ...changes,
    });

  it("keep their bars until other ones are asked for", async () => {
    const { id } = await makeDrill(director, making());
    const before = await drillDetail(director, id);
    expect(before.forms).toHaveLength(12);
    expect(before.available).toBe(128);
    await saveDrill(director, id, { ...making({ title: "Named", bpm: 96 }), basedOn: 1 });
    const renamed = await drillDetail(director, id);
    expect(renamed).toMatchObject({ title: "Named", bpm: 96, version: 2, forms: before.forms });
    await saveDrill(director, id, {
      ...making({ title: "Named", settings: { ...USUAL_PAGE, seed: 6 } }),
      basedOn: 2,
    });
    expect((await drillDetail(director, id)).forms).not.toEqual(before.forms);
    await expect(saveDrill(director, id, { ...making(), basedOn: 1 })).rejects.toThrow("at version 3");
    await setDrillRemoved(director, id, true);
    expect((await listDrills(director)).some((drill) => drill.id === id)).toBe(false);
  });

  it("refuse bars that do not exist, naming the nearest page", async () => {
    const settings = { ...USUAL_PAGE, attacks: [9, 9] as [number, number] };
    await expect(makeDrill(director, making({ settings }))).rejects.toThrow(
      "no form with 9 attacks; the nearest is 8",
    );
  });

  it("are drawn with the syllables of a system, rests in brackets, or without any", async () => {
    const settings = {
      ...USUAL_PAGE,
      rests: true,
      attacks: [3, 3] as [number, number],
      grades: null,
      bars: 4,
    };
    const { id } = await makeDrill(director, making({ settings }));
    const plain = await drillPage(director, id, "medium", null);
    expect(plain.svg).not.toContain('class="verse"');
    const counted = await drillPage(director, id, "medium", "numbers");
    expect(counted.svg).toContain('class="verse"');
    expect(counted.svg).toMatch(/class="syllable"[^>]*>\(\d\)</);
    expect(plain.score.purpose).toMatchObject({ kind: "counting", system: "numbers" });
  });

  it("go to everybody, whatever they play, and are heard as claps", async () => {
    const { id } = await makeDrill(director, making({ title: "For all" }));
    const given = await giveDrill(director, id, giving());
    const tasks = await Task.findAll({ where: { assignmentId: given.assignmentId } });
    expect(tasks).toHaveLength(3);
    const assignment = (await Assignment.findByPk(given.assignmentId))!;
    const revision = (await LineRevision.findByPk(assignment.revisionId))!;
    expect(revision.score.purpose?.kind).toBe("counting");
    const flute = await addTo(director, "Later Comer", ["flute"], "small-tunes", []);
    // Who comes later claps too.
    expect((await stand(flute)).tasks.map((task) => task.lineTitle)).toContain("For all");
    const player = {
      kind: "player" as const,
      playerId: tasks[0]!.playerId,
      bandId: director.bandId,
      name: "x",
    };
    const detail = await taskDetail(player, tasks[0]!.id, "narrow");
    expect(detail.counting!.forms).toHaveLength(12);
    expect(detail.counting!.system.id).toBe("numbers");
    expect(detail.part.key).toBe("no key");
    expect(detail.score.parts[0].clef).toBe("percussion");
  });

  it("count in the band's own words", async () => {
    const own = {
      name: "Harbour words",
      kind: "position" as const,
      simple: ["har", "bor", "lan", "tern"] as [string, string, string, string],
      triplet: ["is", "land", "bell"] as [string, string, string],
      compound: ["is", "-", "land", "-", "bell", "-"] as [string, string, string, string, string, string],
      rests: "silent" as const,
      ties: "silent" as const,
    };
    const { id } = await saveSystem(director, own);
    expect(await saveSystem(director, { ...own, rests: "brackets" })).toEqual({ id });
    const { systems } = await countingSystems(director);
    expect(systems.filter((each) => each.name === "Harbour words")).toEqual([
      expect.objectContaining({ id, rests: "brackets" }),
    ]);
    await chooseSystem(director, id);
    expect((await countingSystems(director)).chosen).toBe(id);
    await expect(chooseSystem(director, "nobody's")).rejects.toThrow("does not exist");
    await expect(saveSystem(director, { ...own, name: "ta-ka-di-mi" })).rejects.toThrow("ships");
  });
});

describe("courses", () => {
  it("make a page of a day once, and bring missed bars back on later days", async () => {
    const { id } = await makeCourse(director, { title: "Two weeks", settings: USUAL_COURSE });
    const { plan } = await courseDetail(director, id);
    const form = formId(plan[0]!.fresh[0]!);
    const changed = await markMissed(director, id, { day: 1, formId: form, missed: true });
    expect(
      changed.plan.filter((day) => day.back.some((each) => formId(each) === form)).map((day) => day.day),
    ).toEqual([2, 4, 7]);
    const { drillId } = await openDay(director, id, 2);
    expect(await openDay(director, id, 2)).toEqual({ drillId });
    const page = await drillDetail(director, drillId);
    expect(page.forms[0]).toBe(form);
    expect(page.course).toEqual({ id, title: "Two weeks", day: 2 });
    for (const name of page.forms) expect(() => readForm(name)).not.toThrow();
    await markMissed(director, id, { day: 1, formId: form, missed: false });
    expect((await courseDetail(director, id)).missed).toEqual([]);
    await expect(
      markMissed(director, id, { day: 1, formId: "4/4:2:xxxxxxxx", missed: true }),
    ).rejects.toThrow("not in that day");
    await expect(openDay(director, id, 14)).rejects.toThrow("does not exist");
    await expect(
      makeCourse(director, { title: "x", settings: { ...USUAL_COURSE, days: 40 } }),
    ).rejects.toThrow("the nearest is 15");
  });
});
