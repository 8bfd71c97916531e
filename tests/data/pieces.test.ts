import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { addDays } from "../../src/core/calendar";
import { mondayOf } from "../../src/core/plan";
import { Band } from "../../src/data";
import type { Director, PlayerActor } from "../../src/services/actor";
import { addGroup } from "../../src/services/band";
import { today } from "../../src/services/calendar";
import { storeLine } from "../../src/services/lines";
import {
  AddAddress,
  addAddress,
  addHandout,
  handoutFile,
  piecesView,
  SavePiece,
  savePiece,
  setHandoutRemoved,
  setPieceRemoved,
} from "../../src/services/pieces";
import { stand, tickStrip } from "../../src/services/practice";
import {
  calendarView,
  concertView,
  drawerView,
  giveWeek,
  ribbonView,
  SaveCalendar,
  SavePlan,
  saveCalendar,
  savePlan,
  saveProgramme,
  setClash,
  takeWeekBack,
} from "../../src/services/week";
import { addTo, anotherBand, type BandInDatabase, bandInDatabase, refusal } from "../support/band";
import { line } from "../support/music";

let band: BandInDatabase;
beforeAll(async () => {
  band = await bandInDatabase();
});
afterAll(() => band.close());

const NOW = today("Europe/Lisbon");
interface Own {
  director: Director;
  groupId: string;
  flute: PlayerActor;
  clarinet: PlayerActor;
}

async function own(): Promise<Own> {
  const { director } = await anotherBand();
  // On whatever day of the week this runs.
  await Band.update({ settings: { weekendsOff: false } }, { where: { id: director.bandId } });
  const { groupId } = await addGroup(director, { name: "Winds" });
  return {
    director,
    groupId,
    flute: await addTo(director, "Fia", ["flute"], "small-tunes", [groupId]),
    clarinet: await addTo(director, "Cleo", ["clarinet"], "small-tunes", [groupId]),
  };
}

const overture = (about: Record<string, unknown> = {}) =>
  SavePiece.parse({
    version: null,
    title: "Harbour Overture",
    bars: 40,
    bpm: 96,
    lineId: null,
    passages: [
      { name: "A", firstBar: 1, lastBar: 16, state: "ready" },
      { name: "Trio", firstBar: 17, lastBar: 32, state: "sight-read" },
    ],
    ...about,
  });

/** Puts strips on the ribbon as a page would. */
async function put(director: Director, ...strips: Record<string, unknown>[]): Promise<string[]> {
  const ids = strips.map(() => crypto.randomUUID());
  await savePlan(
    director,
    SavePlan.parse({
      since: 0,
      changes: strips.map((strip, i) => ({
        id: ids[i],
        basis: null,
        strip: {
          id: ids[i],
          where: "home",
          forWhom: { kind: "everyone" },
          date: NOW,
          place: i,
          refId: null,
          minutes: 4,
          firstBar: null,
          lastBar: null,
          reason: null,
          ...strip,
        },
      })),
    }),
  );
  return ids;
}

const PDF = new TextEncoder().encode("%PDF-1.4\n%a sheet of the test");

describe("pieces", () => {
  it("keep how far each passage is, and what two directors change at once", async () => {
    const { director } = await own();
    const id = crypto.randomUUID();
    const { version } = await savePiece(director, id, overture());
    const [piece] = (await piecesView(director)).pieces;
    expect(piece).toMatchObject({
      title: "Harbour Overture",
      states: { unseen: 8, "sight-read": 16, ready: 16 },
    });
    await savePiece(director, id, overture({ version, title: "Harbour Overture, first version" }));
    expect(await refusal(savePiece(director, id, overture({ version })))).toMatch(/changed elsewhere/);
    await setPieceRemoved(director, id, true);
    expect((await piecesView(director)).pieces).toEqual([]);
    await setPieceRemoved(director, id, false);
    expect((await piecesView(director)).pieces).toHaveLength(1);
  });

  it.each([
    [{ passages: [{ name: "", firstBar: 1, lastBar: 41, state: "ready" }] }, /beyond the last bar/],
    [{ passages: [{ name: "", firstBar: 9, lastBar: 8, state: "ready" }] }, /ends after it begins/],
    [{ title: " " }, /Type the title/],
    [{ bars: 0 }, /counted from 1/],
  ])("are refused in one sentence: %j", (about, said) => {
    const refused = SavePiece.safeParse({ ...overture(), ...about });
    expect(refused.error?.issues[0]?.message).toMatch(said);
  });

  it("of another band are nothing here, nor lines of one", async () => {
    const [one, other] = [await own(), await own()];
    const id = crypto.randomUUID();
    await savePiece(one.director, id, overture());
    expect(await refusal(savePiece(other.director, id, overture({ version: 1 })))).toMatch(/does not exist/);
    const { lineId } = await storeLine(other.director.bandId, line("Bb4:4"), { fileName: "x.musicxml" });
    expect(await refusal(savePiece(one.director, crypto.randomUUID(), overture({ lineId })))).toMatch(
      /does not exist/,
    );
  });
});

describe("a concert", () => {
  async function concert(one: Own) {
    const id = crypto.randomUUID();
    await saveCalendar(
      one.director,
      SaveCalendar.parse({
        version: (await calendarView(one.director)).version,
        terms: [],
        shortDays: [],
        meetings: [],
        changes: [],
        goals: [
          { id, kind: "concert", name: "Quay concert", date: addDays(NOW, 20), groupId: null, programme: [] },
        ],
      }),
    );
    return id;
  }

  it("has who plays what, what is said, and what is ready; the calendar keeps it", async () => {
    const one = await own();
    const id = await concert(one);
    const pieceId = crypto.randomUUID();
    await savePiece(one.director, pieceId, overture());
    const { lineId } = await storeLine(one.director.bandId, line("Bb4:4 | C5:4"), {
      fileName: "x.musicxml",
      title: "Tide",
      number: 7,
    });
    const { version } = await concertView(one.director, id);
    await saveProgramme(one.director, id, {
      version,
      programme: [
        { kind: "piece", refId: pieceId, groupId: one.groupId, spoken: "Written for the harbour light." },
        { kind: "line", refId: lineId, groupId: null, spoken: "" },
      ],
    });
    const seen = await concertView(one.director, id);
    expect(seen.entries).toMatchObject([
      {
        name: "Harbour Overture",
        who: "Winds",
        next: { name: "Trio" },
        spoken: "Written for the harbour light.",
      },
      { name: "No. 7 · Tide", who: "everybody", states: null, clean: null, met: false },
    ]);
    expect(seen.entries[0]!.seconds).toBe(100);
    expect(await refusal(saveProgramme(one.director, id, { version, programme: [] }))).toMatch(
      /changed elsewhere/,
    );
    // Saving the calendar as it is takes nothing off the programme.
    const { goals, meetings, changes, terms, shortDays, version: now } = await calendarView(one.director);
    await saveCalendar(
      one.director,
      SaveCalendar.parse({ version: now, goals, meetings, changes, terms, shortDays }),
    );
    expect((await concertView(one.director, id)).entries).toHaveLength(2);
  });

  it("plays nothing of another band", async () => {
    const [one, other] = [await own(), await own()];
    const id = await concert(one);
    const pieceId = crypto.randomUUID();
    await savePiece(other.director, pieceId, overture());
    const { version } = await concertView(one.director, id);
    const entry = { kind: "piece" as const, refId: pieceId, groupId: null, spoken: "" };
    expect(await refusal(saveProgramme(one.director, id, { version, programme: [entry] }))).toMatch(
      /not on the shelf/,
    );
    expect(await refusal(concertView(other.director, id))).toMatch(/does not exist/);
  });
});

describe("what stands beside tasks", () => {
  it("is on the stands once it is given, for whom it is, ticked off day by day, and taken back", async () => {
    const one = await own();
    const { id: sheet } = await addHandout(one.director, "worksheet", "Rests", PDF);
    const { id: song } = await addAddress(
      one.director,
      AddAddress.parse({ title: "A march", address: "https://music.example/march" }),
    );
    const { drawer } = await drawerView(one.director);
    expect(drawer.map(({ kind, title }) => [kind, title])).toEqual([
      ["listening", "A march"],
      ["worksheet", "Rests"],
    ]);
    const strip = { groupId: one.groupId };
    const stripIds = await put(
      one.director,
      { ...strip, kind: "worksheet", refId: sheet, title: "Rests" },
      {
        ...strip,
        kind: "listening",
        refId: song,
        title: "A march",
        forWhom: { kind: "instrument", instrumentId: "clarinet" },
      },
      { ...strip, kind: "cards", title: "Note names", date: addDays(NOW, 1) },
    );
    expect((await stand(one.flute)).beside).toEqual([]);
    expect(await refusal(handoutFile(one.flute, sheet))).toMatch(/not on your stand/);
    const { given } = await giveWeek(one.director, { stripIds });
    expect(given.map(({ tasks }) => tasks)).toEqual([null, null, null]);
    expect((await stand(one.flute)).beside).toMatchObject([
      { title: "Rests", today: true, file: { handoutId: sheet, form: "sheet" }, done: false },
      { title: "Note names", today: false, file: null },
    ]);
    expect((await stand(one.clarinet)).beside.find(({ title }) => title === "A march")).toMatchObject({
      address: "https://music.example/march",
      file: null,
    });
    expect(await handoutFile(one.flute, sheet)).toMatchObject({
      contentType: "application/pdf",
      bytes: PDF.length,
    });
    await tickStrip(one.flute, stripIds[0]!, true);
    await tickStrip(one.flute, stripIds[0]!, true);
    expect((await stand(one.flute)).beside[0]!.done).toBe(true);
    expect((await stand(one.clarinet)).beside[0]!.done).toBe(false);
    expect((await ribbonView(one.director, NOW, 2)).ticks).toEqual({ [stripIds[0]!]: 1 });
    // The march is for clarinets.
    expect(await refusal(tickStrip(one.flute, stripIds[1]!, true))).toMatch(/not on your stand/);
    await takeWeekBack(one.director, { stripIds });
    expect((await stand(one.flute)).beside).toEqual([]);
  });

  it("takes PDF files as sheets and sounds to listen to, and nothing else", async () => {
    const one = await own();
    const html = new TextEncoder().encode("<script>alert(1)</script>");
    expect(await refusal(addHandout(one.director, "worksheet", "x", html))).toMatch(/is a PDF file/);
    expect(await refusal(addHandout(one.director, "listening", "x", PDF))).toMatch(/not a sound recording/);
    for (const address of ["javascript:alert(1)", "ftp://a.example", "march", "file:///etc/passwd"])
      expect(AddAddress.safeParse({ title: "x", address }).error?.issues[0]?.message).toMatch(
        /whole address/,
      );
    const other = await own();
    const { id } = await addHandout(one.director, "worksheet", "x", PDF);
    expect(await refusal(handoutFile(other.director, id))).toMatch(/does not exist/);
    expect(await refusal(setHandoutRemoved(other.director, id, true))).toMatch(/does not exist/);
    expect(
      await refusal(
        put(other.director, { groupId: other.groupId, kind: "worksheet", refId: id, title: "x" }),
      ),
    ).toMatch(/not on the shelf/);
  });
});

describe("a standing clash", () => {
  it("is kept for one class of the week, and only for the band's own people", async () => {
    const [one, other] = [await own(), await own()];
    const clash = {
      groupId: one.groupId,
      playerId: one.flute.playerId,
      weekday: 2 as const,
      reason: "choir",
      clash: true,
    };
    await setClash(one.director, clash);
    await setClash(one.director, clash);
    expect((await ribbonView(one.director, mondayOf(NOW), 1)).clashes).toEqual([
      { groupId: one.groupId, playerId: one.flute.playerId, weekday: 2, reason: "choir" },
    ]);
    await setClash(one.director, { ...clash, clash: false });
    expect((await ribbonView(one.director, null, 1)).clashes).toEqual([]);
    expect(await refusal(setClash(one.director, { ...clash, playerId: other.flute.playerId }))).toMatch(
      /does not exist/,
    );
    expect(await refusal(setClash(other.director, clash))).toMatch(/not in the band/);
  });
});
