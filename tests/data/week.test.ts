import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { addDays } from "../../src/core/calendar";
import { mondayOf, type Strip } from "../../src/core/plan";
import { Assignment, Line, StripRow, Task } from "../../src/data";
import type { Director, PlayerActor } from "../../src/services/actor";
import { archiveGroup, setMembers } from "../../src/services/band";
import { teachLine } from "../../src/services/knowledge";
import { storeLine } from "../../src/services/lines";
import { stand } from "../../src/services/practice";
import {
  AskDraft,
  addDaysOff,
  calendarView,
  draftView,
  giveWeek,
  keepTemplate,
  lookAtHolidays,
  ribbonView,
  runSheetView,
  SaveCalendar,
  SavePlan,
  saveCalendar,
  savePlan,
  setTemplateRemoved,
  shareCalendar,
  sharedCalendar,
  takeWeekBack,
  templateStrips,
  termToDraft,
  termView,
  tickAbsent,
  turnDown,
} from "../../src/services/week";
import { addTo, anotherBand, type BandInDatabase, bandInDatabase, refusal, takeOf } from "../support/band";
import { line } from "../support/music";
import { day, MONDAY, NOW, type Planned, planned, year } from "../support/planned";

let band: BandInDatabase;
beforeAll(async () => {
  band = await bandInDatabase();
});
afterAll(() => band.close());

const strip = ({ groupId, lineIds }: Planned, about: Partial<Strip> = {}): Strip => ({
  id: crypto.randomUUID(),
  groupId,
  where: "home",
  forWhom: { kind: "everyone" },
  date: day(1),
  place: 1,
  kind: "line",
  refId: lineIds[0]!,
  title: "Tune 1",
  minutes: 3,
  firstBar: null,
  lastBar: null,
  note: "",
  reason: null,
  ...about,
});

const save = (
  director: Director,
  since: number,
  ...changes: { id: string; basis: number | null; strip: Strip | null }[]
) => savePlan(director, SavePlan.parse({ since, changes }));
const put = (director: Director, ...strips: Strip[]) =>
  save(director, 0, ...strips.map((each) => ({ id: each.id, basis: null, strip: each })));
const tasksOf = async (player: PlayerActor) =>
  (await stand(player)).tasks.map(({ lineTitle }) => lineTitle).sort();

describe("the plan", () => {
  it("keeps what two directors change at once, and tells the later one of the first", async () => {
    const own = await planned();
    const { director } = own;
    const [one, two] = [strip(own), strip(own, { place: 2, minutes: 5 })];
    const { version } = await put(director, one, two);
    const first = await save(director, version, {
      id: one.id,
      basis: version,
      strip: { ...one, minutes: 9 },
    });
    expect(first.refused).toEqual([]);
    // The second saw the plan before: its change of the same strip is not made, of the other it is.
    const second = await save(
      director,
      version,
      { id: one.id, basis: version, strip: { ...one, date: day(3) } },
      { id: two.id, basis: version, strip: null },
    );
    expect(second.refused).toEqual([{ id: one.id, said: "changed" }]);
    expect(second.strips).toMatchObject([{ id: one.id, minutes: 9, date: day(1) }]);
    expect(second.gone.map(({ id }) => id)).toEqual([two.id]);
    // Who comes back to a strip that was taken off hears so.
    const third = await save(director, version, {
      id: two.id,
      basis: version,
      strip: { ...two, minutes: 7 },
    });
    expect(third.refused).toEqual([{ id: two.id, said: "taken off" }]);
    // With what the answer says it can be brought back.
    const takenOffAt = second.gone[0]!.version;
    const back = await save(director, third.version, {
      id: two.id,
      basis: takenOffAt,
      strip: { ...two, minutes: 7 },
    });
    expect([back.refused, back.strips.map(({ minutes }) => minutes)]).toEqual([[], [7]]);
  });

  it("takes a change whose answer was lost a second time without a conflict", async () => {
    const own = await planned();
    const wanted = strip(own);
    await put(own.director, wanted);
    expect((await put(own.director, wanted)).refused).toEqual([]);
    expect(await StripRow.count({ where: { bandId: own.director.bandId } })).toBe(1);
  });

  it("asks nothing at home on a day off, with nothing of the save done", async () => {
    const own = await planned();
    const saturday = strip(own, { date: day(5) });
    expect(await refusal(put(own.director, strip(own), saturday))).toMatch(/is off \(the weekend\)/);
    expect(await StripRow.count({ where: { bandId: own.director.bandId } })).toBe(0);
    // In class nothing is held on it either, but a rehearsal may be written down.
    expect((await put(own.director, strip(own, { where: "class", date: day(5) }))).strips).toHaveLength(1);
  });

  it("shows a week with its classes, minutes and who is not ready", async () => {
    const own = await planned();
    const high = await storeLine(own.director.bandId, line("F#4:2 G#4:2 | C#5:4"), {
      fileName: "test.musicxml",
      title: "Sharp",
    });
    await put(own.director, strip(own, { refId: high.lineId, where: "class", title: "Sharp" }));
    const ribbon = await ribbonView(own.director, MONDAY, 1);
    const held = ribbon.cells.filter(({ where, budget }) => where === "class" && budget > 0);
    expect(held.map(({ date, startsAt, budget }) => [date, startsAt, budget])).toEqual([
      [day(1), "09:40", 40],
      [day(3), "09:40", 40],
    ]);
    expect(ribbon.term).toMatchObject({ name: "Term", week: 10 });
    expect(ribbon.asks[`${own.groupId}/${high.lineId}`]!.map(({ instrumentId }) => instrumentId)).toContain(
      "clarinet",
    );
  });

  it("puts what a class did not get to on the next run sheet, once", async () => {
    const own = await planned();
    const at = (n: number, about: Partial<Strip>) => strip(own, { where: "class", date: day(n), ...about });
    // Classes are on Tuesdays and Thursdays.
    await put(
      own.director,
      at(1, { title: "Tune 1" }),
      at(1, { title: "Tune 2", place: 1, notReached: true, firstBar: 0, lastBar: 1 }),
      at(3, { title: "Tune 3" }),
    );
    const sheet = await runSheetView(own.director, own.groupId, day(3));
    expect(sheet.before?.titles).toEqual(["Tune 2, bars 1 to 2"]);
    expect((await runSheetView(own.director, own.groupId, day(8))).before).toBeNull();
  });

  it("keeps a week by name, without what single players catch up on, for other weeks of this band", async () => {
    const own = await planned();
    const { director } = own;
    expect(await refusal(keepTemplate(director, { name: "Usual", of: day(2) }))).toMatch(/Nothing stands/);
    const alone = { kind: "player" as const, playerId: own.flute.playerId };
    await put(director, strip(own), strip(own, { where: "class" }), strip(own, { forWhom: alone }));
    const { id } = await keepTemplate(director, { name: "Usual", of: day(2) });
    expect((await ribbonView(director, MONDAY, 1)).templates).toEqual([{ id, name: "Usual" }]);
    const kept = await templateStrips(director, id);
    expect([kept.monday, kept.strips.map(({ where }) => where).sort()]).toEqual([MONDAY, ["class", "home"]]);
    const other = await anotherBand();
    expect(await refusal(templateStrips(other.director, id))).toMatch(/does not exist/);
    expect(await refusal(setTemplateRemoved(other.director, id, true))).toMatch(/does not exist/);
    await setTemplateRemoved(director, id, true);
    expect((await ribbonView(director, MONDAY, 1)).templates).toEqual([]);
  });

  it("remembers who missed which lesson, for the group of the class alone", async () => {
    const own = await planned();
    const { director, groupId, flute } = own;
    const tick = (absent: boolean) =>
      tickAbsent(director, { groupId, date: day(1), playerId: flute.playerId, absent });
    await tick(true);
    await tick(true);
    const { absent, cells } = await ribbonView(director, MONDAY, 1);
    expect(absent).toEqual([{ groupId, date: day(1), playerId: flute.playerId }]);
    // The tenth week of two classes a week.
    expect(cells.find(({ where, date }) => where === "class" && date === day(1))!.lesson).toBe(21);
    expect((await runSheetView(director, groupId, day(1))).absent).toEqual(["Fia"]);
    await tick(false);
    expect((await ribbonView(director, MONDAY, 1)).absent).toEqual([]);
  });

  it("keeps strips of a line that is taken off the shelf, and says so when they are given", async () => {
    const own = await planned();
    const [gone, there] = [strip(own), strip(own, { refId: own.lineIds[1]!, title: "Tune 2" })];
    await put(own.director, gone, there);
    await Line.update({ removedAt: new Date() }, { where: { id: own.lineIds[0]! } });
    expect((await ribbonView(own.director, MONDAY, 1)).strips).toHaveLength(2);
    const answer = await giveWeek(own.director, { stripIds: [gone.id, there.id] });
    expect(answer.given.map(({ title }) => title)).toEqual(["Tune 2"]);
    expect(answer.refused).toEqual([{ title: "Tune 1", why: expect.stringMatching(/archived/) }]);
  });
});

describe("a week that is given", () => {
  it("asks what stands on several days as often, once, and is taken back whole", async () => {
    const own = await planned();
    const days = [0, 1, 3].map((n) => strip(own, { date: day(n) }));
    await put(own.director, ...days);
    const stripIds = days.map(({ id }) => id);
    const { given } = await giveWeek(own.director, { stripIds });
    expect(given).toMatchObject([{ title: "Tune 1", tasks: 2 }]);
    const row = (await Assignment.findByPk(given[0]!.assignmentId!))!;
    expect([row.timesPerWeek, row.dueDate]).toEqual([3, day(3)]);
    expect(await refusal(giveWeek(own.director, { stripIds }))).toMatch(/on the stands already/);
    await takeWeekBack(own.director, { stripIds });
    expect(await tasksOf(own.flute)).toEqual([]);
    expect((await giveWeek(own.director, { stripIds })).given).toHaveLength(1);
  });

  it("gives nothing twice when the button is clicked twice", async () => {
    const own = await planned();
    const one = strip(own);
    await put(own.director, one);
    const twice = await Promise.allSettled([
      giveWeek(own.director, { stripIds: [one.id] }),
      giveWeek(own.director, { stripIds: [one.id] }),
    ]);
    expect(twice.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
    expect(await Assignment.count({ where: { groupId: own.groupId } })).toBe(1);
  });

  it("reaches one instrument or one player alone, newcomers of the instrument too", async () => {
    const own = await planned();
    const { director, groupId, flute, clarinet } = own;
    const reeds = strip(own, { forWhom: { kind: "instrument", instrumentId: "clarinet" } });
    const alone = strip(own, {
      forWhom: { kind: "player", playerId: flute.playerId },
      refId: own.lineIds[1]!,
      title: "Tune 2",
    });
    await put(director, reeds, alone);
    await giveWeek(director, { stripIds: [reeds.id, alone.id] });
    expect([await tasksOf(flute), await tasksOf(clarinet)]).toEqual([["Tune 2"], ["Tune 1"]]);
    const second = await addTo(director, "Cora", ["clarinet"], "small-tunes", [groupId]);
    const third = await addTo(director, "Finn", ["flute"], "small-tunes", [groupId]);
    expect([await tasksOf(second), await tasksOf(third)]).toEqual([["Tune 1"], []]);
  });

  it("keeps what a group had when everybody leaves it", async () => {
    const own = await planned();
    const one = strip(own);
    await put(own.director, one);
    await giveWeek(own.director, { stripIds: [one.id] });
    await setMembers(own.director, own.groupId, { playerIds: [] });
    const late = strip(own, { refId: own.lineIds[1]!, title: "Tune 2", place: 3 });
    await put(own.director, late);
    const { given, refused } = await giveWeek(own.director, { stripIds: [late.id] });
    expect(given).toEqual([]);
    expect(refused).toEqual([{ title: "Tune 2", why: expect.stringMatching(/[.!]$/) }]);
    expect(await Task.count({ where: { playerId: own.flute.playerId } })).toBe(1);
    expect((await ribbonView(own.director, MONDAY, 1)).strips).toHaveLength(2);
  });
});

describe("a drafted week", () => {
  const draft = async (own: Planned) =>
    (await draftView(own.director, AskDraft.parse({ monday: MONDAY }))).groups.find(
      ({ groupId }) => groupId === own.groupId,
    )!;

  it("is the same for the same band, within its minutes, on no day off, each with its reason", async () => {
    const own = await planned();
    const [one, again] = [await draft(own), await draft(own)];
    expect(again).toEqual(one);
    expect(one.proposals.length).toBeGreaterThan(3);
    const { cells } = await ribbonView(own.director, MONDAY, 1);
    for (const cell of cells) {
      const minutes = one.proposals
        .filter(({ where, date }) => where === cell.where && date === cell.date)
        .reduce((sum, each) => sum + each.minutes, 0);
      expect(minutes).toBeLessThanOrEqual(cell.budget);
    }
    for (const each of one.proposals) {
      expect([day(0), day(1), day(2), day(3), day(4)]).toContain(each.date);
      expect(each.reason).not.toBeNull();
    }
  });

  it("counts what is planned for a class as met by then, so that it is not proposed as new again", async () => {
    const own = await planned();
    const isNew = async () =>
      (await draft(own)).proposals.filter(({ reason }) => reason.kind === "next").map(({ refId }) => refId);
    const before = await isNew();
    expect(before).toContain(own.lineIds[0]);
    await put(own.director, strip(own, { where: "class", date: day(1) }));
    expect(await isNew()).not.toContain(own.lineIds[0]);
    const { groups, version } = await termToDraft(own.director);
    expect(version).toBeGreaterThan(0);
    const state = groups.find((group) => group.state.groupId === own.groupId)!;
    expect(state.state.lines.find(({ id }) => id === own.lineIds[0])!.met.map(({ on }) => on)).toEqual([
      day(1),
    ]);
    // Every school day of the term that is left, class and home.
    expect(state.slots.filter(({ where }) => where === "class").length).toBeGreaterThan(15);
  });

  it("leaves out what was turned down until it is wanted again", async () => {
    const own = await planned();
    const before = await draft(own);
    const [first] = before.proposals;
    const down = { groupId: own.groupId, proposal: first!.key, said: "not this" };
    await turnDown(own.director, { ...down, down: true });
    const after = await draft(own);
    expect(after.proposals.map(({ key }) => key)).not.toContain(first!.key);
    expect(after.turnedDown).toEqual([{ proposal: first!.key, said: "not this" }]);
    await turnDown(own.director, { ...down, down: false });
    expect(await draft(own)).toEqual(before);
  });

  it("goes to the bar that most takes missed, and says in how many", async () => {
    const own = await planned();
    const one = strip(own, { date: day(1) });
    await put(own.director, one);
    const { given } = await giveWeek(own.director, { stripIds: [one.id] });
    const third = await addTo(own.director, "Finn", ["flute"], "small-tunes", [own.groupId]);
    for (const player of [own.flute, own.clarinet, third])
      await takeOf(player, given[0]!.assignmentId!, { total: 3, clean: 2, wrong: 1, bars: { 1: 1 } });
    const proposals = (await draft(own)).proposals.filter(({ refId }) => refId === own.lineIds[0]);
    expect(proposals.map(({ reason }) => reason)).toContainEqual(
      expect.objectContaining({ kind: "hot-bar", wrong: 3, takes: 3 }),
    );
  });
});

describe("the calendar", () => {
  it("is not overwritten by somebody who had not seen what was saved meanwhile", async () => {
    const own = await planned();
    const { version } = await calendarView(own.director);
    await saveCalendar(own.director, SaveCalendar.parse(year(own.groupId, version)));
    expect(await refusal(saveCalendar(own.director, SaveCalendar.parse(year(own.groupId, version))))).toMatch(
      /changed elsewhere/,
    );
  });

  it("has no two terms on a day", async () => {
    const own = await planned();
    const { version } = await calendarView(own.director);
    const next = year(own.groupId, version);
    const after = {
      id: crypto.randomUUID(),
      name: "Spring",
      from: addDays(MONDAY, 70),
      to: addDays(MONDAY, 90),
    };
    expect(
      await refusal(
        saveCalendar(own.director, SaveCalendar.parse({ ...next, terms: [...next.terms, after] })),
      ),
    ).toMatch(/Terms share no day/);
    expect((await calendarView(own.director)).terms).toHaveLength(1);
  });

  it("has terms and cycles that can be counted through in a moment", async () => {
    const own = await planned();
    const { version } = await calendarView(own.director);
    const next = year(own.groupId, version);
    const long = { ...next.terms[0]!, from: "2000-01-01", to: "2199-12-31" };
    expect(
      SaveCalendar.safeParse({ ...next, terms: [long] }).error?.issues.map(({ message }) => message),
    ).toEqual(["A term lasts a year and a half at most."]);
    expect(SaveCalendar.safeParse({ ...next, terms: [{ ...long, from: "0001-01-01" }] }).success).toBe(false);
    const cycle = {
      ...next.meetings[0]!,
      pattern: { kind: "cycle" as const, length: 6, on: [1] },
      from: addDays(NOW, -1200),
    };
    expect(
      await refusal(saveCalendar(own.director, SaveCalendar.parse({ ...next, meetings: [cycle] }))),
    ).toMatch(/one of the last three years/);
  });

  it("takes days off from a school's file after a look, once", async () => {
    const own = await planned();
    const compact = (date: string) => date.replaceAll("-", "");
    const text = [
      "BEGIN:VCALENDAR",
      "BEGIN:VEVENT",
      "UID:1",
      "SUMMARY:Harbour week",
      `DTSTART;VALUE=DATE:${compact(day(1))}`,
      `DTEND;VALUE=DATE:${compact(day(3))}`,
      "END:VEVENT",
      "END:VCALENDAR",
    ].join("\r\n");
    const { holidays } = await lookAtHolidays(own.director, { text });
    expect(holidays).toEqual([{ from: day(1), to: day(2), name: "Harbour week" }]);
    expect((await calendarView(own.director)).daysOff).toEqual([]);
    await addDaysOff(own.director, { days: holidays });
    expect(await lookAtHolidays(own.director, { text })).toMatchObject({ holidays: [], already: 1 });
    const { cells, days } = await ribbonView(own.director, MONDAY, 1);
    expect(days.find(({ date }) => date === day(1))!.off).toBe("Harbour week");
    // The class of that Tuesday is not held, and nothing is asked at home.
    expect(cells.filter(({ date, budget }) => date === day(1) && budget > 0)).toEqual([]);
  });

  it("is read by whoever has its address, until the address is drawn anew", async () => {
    const own = await planned();
    const { version } = await calendarView(own.director);
    const next = year(own.groupId, version);
    next.goals.push({
      id: crypto.randomUUID(),
      kind: "concert",
      name: "Harbour Concert",
      date: day(8),
      groupId: own.groupId,
      programme: [{ kind: "line", refId: own.lineIds[0]!, groupId: null, spoken: "" }],
    });
    await saveCalendar(own.director, SaveCalendar.parse(next));
    const one = strip(own);
    await put(own.director, one);
    await giveWeek(own.director, { stripIds: [one.id] });
    const { address } = await shareCalendar(own.director, true);
    const file = await sharedCalendar(address!);
    for (const words of ["SUMMARY:Winds", "SUMMARY:Harbour Concert", "Tune 1 is due"])
      expect(file).toContain(words);
    expect(file).not.toMatch(/Fia|Cleo/);
    const renewed = await shareCalendar(own.director, true);
    expect(await refusal(sharedCalendar(address!))).toMatch(/No calendar is shared/);
    expect(await sharedCalendar(renewed.address!)).toContain("SUMMARY:Winds");
    await shareCalendar(own.director, false);
    expect(await refusal(sharedCalendar(renewed.address!))).toMatch(/No calendar is shared/);
  });

  it("shows a term whole: every week with its minutes, what is planned, and what is coming", async () => {
    const own = await planned();
    const { version } = await calendarView(own.director);
    const next = year(own.groupId, version);
    next.goals.push({
      id: crypto.randomUUID(),
      kind: "test",
      name: "Playing test",
      date: day(9),
      groupId: own.groupId,
      programme: [],
    });
    await saveCalendar(own.director, SaveCalendar.parse(next));
    await put(
      own.director,
      strip(own, { where: "class", minutes: 12 }),
      strip(own, { where: "class", refId: own.lineIds[1]!, place: 1.5, minutes: 1 }),
      strip(own, { where: "class", kind: "text", refId: null, title: "words", place: 2, minutes: 5 }),
      strip(own, { date: day(2) }),
    );
    await teachLine(own.director, own.lineIds[2]!, {
      groupId: own.groupId,
      instruments: [],
      on: addDays(NOW, -7),
    });
    const { weeks, groups, term } = (await termView(own.director))!;
    const shown = weeks.find(({ monday }) => monday === MONDAY)!;
    const cell = shown.cells[groups.findIndex(({ id }) => id === own.groupId)]!;
    expect(cell).toEqual({
      groupId: own.groupId,
      lines: "No. 1, 2",
      met: "",
      planned: 18,
      budget: 80,
      home: 1,
    });
    // What was taught shows in its week, planned or not.
    const taught = weeks.find(({ monday }) => monday === mondayOf(addDays(NOW, -7)))!;
    expect(taught.cells[groups.findIndex(({ id }) => id === own.groupId)]).toMatchObject({
      met: "No. 3",
      planned: 0,
    });
    expect(weeks.find(({ monday }) => monday === addDays(MONDAY, 7))!.goals.map(({ name }) => name)).toEqual([
      "Playing test",
    ]);
    // Seventy days before to seventy after: twenty whole weeks and the Monday of one more.
    expect([weeks.length, term.week]).toEqual([21, 10]);
    expect(weeks.filter(({ now }) => now).map(({ monday }) => monday)).toEqual([mondayOf(NOW)]);
    const { director } = await anotherBand();
    expect(await termView(director)).toBeNull();
  });

  it("leaves out the meetings of a group that was archived, and keeps them for its return", async () => {
    const own = await planned();
    await archiveGroup(own.director, own.groupId);
    expect(
      (await ribbonView(own.director, MONDAY, 1)).cells.filter(({ groupId }) => groupId === own.groupId),
    ).toEqual([]);
  });
});
