import { unzipSync } from "fflate";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { writeWav } from "../../src/core/audio";
import { fingeringText, pitchId } from "../../src/core/music";
import { readMusicXml, type Score, writeMidi, writeMusicXml } from "../../src/core/score";
import { LineRevision, PlayerInstrument, Task } from "../../src/data";
import type { Director } from "../../src/services/actor";
import { bandOverview, setBuild } from "../../src/services/band";
import { assign } from "../../src/services/giving";
import { storeLine } from "../../src/services/lines";
import { fingeringChart, setFingerings, withPencil } from "../../src/services/parts";
import { taskDetail } from "../../src/services/practice";
import {
  attachRecording,
  catalogueLine,
  describeLine,
  erasePencil,
  importLine,
  lineBundle,
  lineDetail,
  lineFile,
  linePart,
  lineScore,
  listLines,
  lookAtFile,
  newestRevision,
  pencilOf,
  recordingSound,
  recordingsOf,
  removePart,
  removeView,
  savedViews,
  savePart,
  saveView,
  setBars,
  setForGroup,
  setOverride,
  setRemoved,
  writePencil,
} from "../../src/services/shelf";
import { ShelfFilter } from "../../src/services/shelf/schema";
import { addTo, anotherBand, type BandInDatabase, bandInDatabase, give, printedFor } from "../support/band";
import { line } from "../support/music";

const tune = () => line("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 | D5:2 C5:2 | Bb4:4");
const xml = (score: Score) => new TextEncoder().encode(writeMusicXml(score));
const written = (score: Score) =>
  score.parts[0].measures.flatMap((measure) =>
    measure.events.flatMap((event) => (event.pitch ? [pitchId(event.pitch)] : [])),
  );
const PAPER = {
  title: "On paper",
  number: 52,
  page: 18,
  introduces: "",
  book: "Tidewater Method",
  teachingPlace: null,
  teachingReason: "",
  fifths: -3,
  beats: 3,
  beatType: 4 as const,
  bars: 8,
  bpm: 90,
  unpitched: false,
};

let band: BandInDatabase;
beforeAll(async () => {
  band = await bandInDatabase();
});
afterAll(() => band.close());

async function withLine(score = tune()): Promise<{ director: Director; fullBandId: string; lineId: string }> {
  const own = await anotherBand();
  const { lineId } = await importLine(own.director, { fileName: "a.musicxml", book: "Steps" }, xml(score));
  return { ...own, lineId };
}
const newest = (lineId: string) =>
  LineRevision.findOne({ where: { lineId }, order: [["number", "DESC"]] }) as Promise<LineRevision>;

describe("a changed line", () => {
  it("is a new version: a task given before keeps its notes", async () => {
    const { director, fullBandId, lineId } = await withLine();
    const ines = await addTo(director, "Ines", ["flute"]);
    await assign(director, {
      lineId,
      groupId: fullBandId,
      goalBpm: 80,
      timesPerWeek: 5,
      dueDate: "2099-01-01",
      note: "",
    });
    const { revisionId } = await lineDetail(director, lineId);
    await savePart(director, lineId, "P1", { basedOn: revisionId }, xml(line("F5:4 | F5:4")));
    const task = (await Task.findOne({ where: { playerId: ines.playerId } }))!;
    expect(written((await taskDetail(ines, task.id, "wide")).score)).toHaveLength(9);
    expect(written((await lineScore(director, lineId, "concert", "widening", null)).score)).toEqual([
      "F5",
      "F5",
    ]);
    expect(await LineRevision.count({ where: { lineId } })).toBe(2);
  });

  it("refuses what was opened before somebody else saved, and keeps the line", async () => {
    const { director, lineId } = await withLine();
    const { revisionId } = await lineDetail(director, lineId);
    await savePart(director, lineId, "P1", { basedOn: revisionId }, xml(line("F5:4")));
    await expect(
      savePart(director, lineId, "P1", { basedOn: revisionId }, xml(line("G5:4"))),
    ).rejects.toThrow("changed by somebody else");
    expect(written((await newest(lineId)).score)).toEqual(["F5"]);
  });

  it("saved without a change makes no new version, and broken notes change nothing", async () => {
    const { director, lineId } = await withLine();
    const { revisionId } = await lineDetail(director, lineId);
    const { score } = await lineScore(director, lineId, null, "widening", null);
    expect(await savePart(director, lineId, "P1", { basedOn: revisionId }, xml(score))).toMatchObject({
      revisionId,
    });
    await expect(
      savePart(director, lineId, "P1", { basedOn: revisionId }, new TextEncoder().encode("<score-partwise>")),
    ).rejects.toThrow("This part was not saved.");
    expect(await LineRevision.count({ where: { lineId } })).toBe(1);
  });
});

describe("parts of a line", () => {
  it("one for clarinets only, one for whoever is given it; taken away, the earlier version keeps it", async () => {
    const { director, fullBandId, lineId } = await withLine();
    const cleo = await addTo(director, "Cleo", ["clarinet"]);
    const tom = await addTo(director, "Tom", ["trombone"]);
    const add = async (name: string, instruments: string[], music: string) =>
      savePart(
        director,
        lineId,
        "new",
        { basedOn: (await lineDetail(director, lineId)).revisionId, name, instruments },
        xml(line(music)),
      );
    await add("Down", ["clarinet"], "Bb4:4 | A4:4 | G4:4 | F4:4");
    const { partId } = await add("Easy", [], "Bb4:4 | Bb4:4 | Bb4:4 | Bb4:4");
    expect((await lineDetail(director, lineId)).parts).toEqual([
      { id: "P1", name: "Concert pitch", forInstruments: [] },
      { id: "P2", name: "Down", forInstruments: ["clarinet"] },
      { id: "P3", name: "Easy", forInstruments: [] },
    ]);
    const given = (part?: string) =>
      assign(director, {
        lineId,
        groupId: fullBandId,
        goalBpm: 80,
        timesPerWeek: 5,
        dueDate: "2099-01-01",
        note: "",
        sure: ["again"],
        ...(part ? { partId: part } : {}),
      });
    const first = await given();
    const easy = await given(partId);
    const notesOf = async (who: typeof cleo, assignmentId: string) => {
      const task = (await Task.findOne({ where: { playerId: who.playerId, assignmentId } }))!;
      return written((await taskDetail(who, task.id, "wide")).score);
    };
    expect(await notesOf(cleo, first.assignmentId)).toEqual(["C4", "B3", "A3", "G3"]);
    expect(await notesOf(tom, first.assignmentId)).toHaveLength(9);
    expect(await notesOf(tom, easy.assignmentId)).toEqual(["Bb2", "Bb2", "Bb2", "Bb2"]);
    await expect(given("P9")).rejects.toThrow("This line has no such part.");

    const easyFile = await lineFile(director, lineId, "trombone", "musicxml", "small-tunes", partId);
    expect(written(readMusicXml(easyFile.bytes).score)).toEqual(["Bb2", "Bb2", "Bb2", "Bb2"]);

    await removePart(director, lineId, partId);
    expect((await lineDetail(director, lineId)).parts).toHaveLength(2);
    expect(await notesOf(tom, easy.assignmentId)).toEqual(["Bb2", "Bb2", "Bb2", "Bb2"]);
    await expect(removePart(director, lineId, "P1")).rejects.toThrow("The first part is the line itself");
    await expect(removePart(director, lineId, "P9")).rejects.toThrow("no such part");
  });

  it("in an imported file go to the instruments they are named for", async () => {
    const own = await anotherBand();
    const score = tune();
    score.parts.push({ ...line("F4:4 | F4:4 | F4:4 | F4:4").parts[0], id: "P2", name: "Trombone" });
    const { lineId, notUnderstood } = await importLine(own.director, { fileName: "b.musicxml" }, xml(score));
    expect(notUnderstood).toEqual([]);
    expect((await lineDetail(own.director, lineId)).parts[1]).toMatchObject({
      name: "Trombone",
      forInstruments: ["trombone"],
    });
  });

  it("an instrument's own part counts when the shelf asks who is ready", async () => {
    const { director, lineId } = await withLine(line("Bb4:2 F5:2 | A5:2 Bb5:2"));
    await addTo(director, "Cleo", ["clarinet"], "widening");
    const crosses = async () => (await listLines(director))[0]!.crossesBreak;
    expect(await crosses()).toBe(true);
    const { revisionId } = await lineDetail(director, lineId);
    await savePart(
      director,
      lineId,
      "new",
      { basedOn: revisionId, name: "Down", instruments: ["clarinet"] },
      xml(line("Bb4:2 C5:2 | D5:4")),
    );
    expect(await crosses()).toBe(false);
  });
});

describe("an instrument's octave and notes", () => {
  it("are changed on purpose, shown as such, and put back", async () => {
    const { director, lineId } = await withLine();
    const of = () => linePart(director, lineId, "horn", "small-tunes", "wide");
    const before = await of();
    await setOverride(director, lineId, "horn", { octave: before.octaveShift + 1 });
    const first = (await lineScore(director, lineId, null, "widening", null)).score.parts[0].measures[0]!
      .events[0]!.id;
    await setOverride(director, lineId, "horn", { substitutes: { [first]: "G4" } });
    const changed = await of();
    expect(changed).toMatchObject({ octaveBy: "director", octaveShift: before.octaveShift + 1 });
    expect(changed.substituted).toEqual([{ eventId: first, measure: "1", from: "F5", to: "G4" }]);
    expect((await linePart(director, lineId, "flute", "small-tunes", "wide")).octaveBy).toBe("rule");
    await setOverride(director, lineId, "horn", { octave: null, substitutes: { [first]: null } });
    expect(await of()).toEqual(before);
    expect((await newest(lineId)).score.overrides).toBeUndefined();
    await expect(setOverride(director, lineId, "horn", { substitutes: { nothing: "G4" } })).rejects.toThrow(
      "does not exist",
    );
    await expect(setOverride(director, lineId, "snare", { octave: 1 })).rejects.toThrow(
      "no such pitched instrument",
    );
  });
});

describe("a catalogued line", () => {
  it("is given and opened without notes, and says nothing of readiness or difficulty", async () => {
    const { director, fullBandId } = await anotherBand();
    const tove = await addTo(director, "Tove", ["sax-alto"]);
    const { lineId } = await catalogueLine(director, PAPER);
    expect((await listLines(director))[0]).toMatchObject({
      catalogued: true,
      book: "Tidewater Method",
      concertKey: "E♭ major",
      metre: "3/4",
      bars: 8,
      difficulty: null,
      bringsNew: [],
    });
    expect(await linePart(director, lineId, "sax-alto", "small-tunes", "wide")).toMatchObject({
      key: "C major",
      newNotes: [],
      newRhythms: [],
      snags: [],
      noteList: [],
      ladder: null,
    });
    await assign(director, {
      lineId,
      groupId: fullBandId,
      goalBpm: 90,
      timesPerWeek: 5,
      dueDate: "2099-01-01",
      note: "",
    });
    const task = (await Task.findOne({ where: { playerId: tove.playerId } }))!;
    expect(await taskDetail(tove, task.id, "narrow")).toMatchObject({ catalogued: true, page: 18 });
    await expect(lineFile(director, lineId, "concert", "mid", "widening")).rejects.toThrow(
      "in the book only",
    );
    expect(
      Object.keys(unzipSync((await lineBundle(director, lineId)).bytes)).every((name) =>
        name.endsWith(".musicxml"),
      ),
    ).toBe(true);
  });

  it("becomes a whole line when its notes are typed", async () => {
    const { director } = await anotherBand();
    const { lineId } = await catalogueLine(director, { ...PAPER, bars: 2 });
    const { revisionId } = await lineDetail(director, lineId);
    await savePart(
      director,
      lineId,
      "P1",
      { basedOn: revisionId },
      xml(line("Eb5:3 | G5:3", { metre: [3, 4], fifths: -3 })),
    );
    expect((await listLines(director))[0]).toMatchObject({ catalogued: false, bars: 2 });
  });
});

describe("book, order and reason", () => {
  it("are kept with the line and told on the shelf", async () => {
    const { director, lineId } = await withLine();
    await describeLine(director, lineId, {
      title: "New name",
      number: 12,
      page: 5,
      introduces: "F♯",
      book: "Another book",
      teachingPlace: 3,
      teachingReason: "before the break",
    });
    expect((await listLines(director))[0]).toMatchObject({
      title: "New name",
      number: 12,
      book: "Another book",
      teachingPlace: 3,
      teachingReason: "before the break",
    });
    const stranger = await anotherBand();
    await expect(
      describeLine(stranger.director, lineId, {
        title: "x",
        number: null,
        page: null,
        introduces: "",
        book: "",
        teachingPlace: null,
        teachingReason: "",
      }),
    ).rejects.toThrow("belongs to another band");
  });
});

describe("the band's fingerings", () => {
  it("are confirmed, changed and taken back, on the chart and on every part", async () => {
    const { director, lineId } = await withLine(line("G4:4 | C5:4"));
    const at = async (midi: number) =>
      (await fingeringChart(director, "clarinet", null)).notes.find((note) => note.midi === midi)!;
    expect(await at(57)).toMatchObject({
      name: "A3",
      fingeringText: "T 123 | 12-",
      checkedBy: ["tone holes", "common practice"],
      set: false,
    });
    await setFingerings(director, "clarinet", {
      notes: [
        { midi: 57, text: "T 123 | 12-" },
        { midi: 63, text: "T 1-- | 1--" },
      ],
    });
    expect(await at(57)).toMatchObject({ checkedBy: ["director"], set: true });
    expect(await at(63)).toMatchObject({ fingeringText: "T 1-- | 1--", checkedBy: ["director"] });
    const part = await linePart(director, lineId, "clarinet", "five-notes", "wide");
    expect(part.newNotes.find((note) => note.name === "A3")?.checkedBy).toEqual(["director"]);
    await setFingerings(director, "clarinet", { notes: [{ midi: 63, text: null }] });
    expect(await at(63)).toMatchObject({ fingeringText: "T 12- | --- + side E♭", checkedBy: ["tone holes"] });
    expect(
      (await fingeringChart((await anotherBand()).director, "clarinet", null)).notes.some((note) => note.set),
    ).toBe(false);
  });

  it("name the note whose text is no fingering, and then change nothing", async () => {
    const { director } = await anotherBand();
    await expect(
      setFingerings(director, "trumpet", {
        notes: [
          { midi: 60, text: "open" },
          { midi: 62, text: "1-5" },
        ],
      }),
    ).rejects.toThrow('"1-5" is no fingering of the trumpet for D4; write it like 1-3.');
    expect((await fingeringChart(director, "trumpet", null)).notes.some((note) => note.set)).toBe(false);
  });

  it("keep a brass note's intonation when it is confirmed as the chart has it", async () => {
    const { director } = await anotherBand();
    const chart = await fingeringChart(director, "trumpet", null);
    const before = chart.notes.find((note) => note.name === "D4")!;
    await setFingerings(director, "trumpet", { notes: [{ midi: before.midi, text: "1-3" }] });
    const after = (await fingeringChart(director, "trumpet", null)).notes.find((note) => note.name === "D4")!;
    expect(after.tendency).toBe(before.tendency);
  });

  it("follow a player's own horn", async () => {
    const { director, fullBandId } = await anotherBand();
    const rafi = await addTo(director, "Rafi", ["horn"], "five-notes");
    const { assignmentId } = await give(director, line("D5:4 | F5:4"), fullBandId);
    const task = (await Task.findOne({ where: { assignmentId } }))!;
    const fingering = async () => {
      const note = (await taskDetail(rafi, task.id, "wide")).part.newNotes.find(
        (each) => each.name === "A4",
      )!;
      return fingeringText(note.fingering!);
    };
    expect(await fingering()).toBe("1-2");
    await setBuild(director, rafi.playerId, "horn", { variant: "double" });
    expect(await fingering()).toBe("T 1-2");
    expect((await bandOverview(director)).players[0]!.builds).toEqual({ horn: "double" });
    await expect(setBuild(director, rafi.playerId, "horn", { variant: "triple" })).rejects.toThrow(
      "not built that way",
    );
    await expect(setBuild(director, rafi.playerId, "flute", { variant: null })).rejects.toThrow(
      "does not exist",
    );
    expect(await PlayerInstrument.count({ where: { variant: "double", playerId: rafi.playerId } })).toBe(1);
  });
});

describe("pencil", () => {
  it("stands with its writer, is shared when wanted, and is printed", async () => {
    const { director, fullBandId, lineId } = await withLine();
    const cleo = await addTo(director, "Cleo", ["clarinet"]);
    const tom = await addTo(director, "Tom", ["trombone"]);
    const eventId = (await newest(lineId)).score.parts[0].measures[0]!.events[0]!.id;
    const mark = { eventId, kind: "reminder" as const, instrumentId: null };
    await expect(pencilOf(cleo, lineId, "clarinet")).rejects.toThrow("does not exist");
    await assign(director, {
      lineId,
      groupId: fullBandId,
      goalBpm: 80,
      timesPerWeek: 5,
      dueDate: "2099-01-01",
      note: "",
    });

    await writePencil(director, lineId, { ...mark, text: "to all", shared: true });
    await writePencil(director, lineId, {
      ...mark,
      text: "low brass",
      instrumentId: "trombone",
      shared: true,
    });
    await writePencil(director, lineId, { ...mark, text: "for me", shared: false });
    const own = await writePencil(cleo, lineId, { ...mark, kind: "accidental", text: "♭", shared: false });
    await writePencil(cleo, lineId, { ...mark, text: "see this", shared: true });
    const texts = async (who: typeof cleo | Director, instrument: string | null) =>
      (await pencilOf(who, lineId, instrument)).map((each) => each.text);
    expect(await texts(cleo, "clarinet")).toEqual(["to all", "♭", "see this"]);
    expect(await texts(tom, "trombone")).toEqual(["to all", "low brass"]);
    expect(await texts(director, null)).toEqual(["to all", "low brass", "for me", "see this"]);

    const sheets = await printedFor(director, lineId, fullBandId);
    const sheet = (name: string) => sheets.find((each) => each.playerName === name)!.part.svg;
    expect(sheet("Cleo")).toContain(">♭</text>");
    expect(sheet("Cleo")).not.toContain("low brass");
    expect(sheet("Tom")).toContain(">low brass</text>");
    expect(sheet("Tom")).not.toContain("for me");

    await expect(erasePencil(tom, own.id)).rejects.toThrow("belongs to somebody else");
    await expect(erasePencil(director, own.id)).rejects.toThrow("belongs to somebody else");
    await erasePencil(cleo, own.id);
    expect(await texts(cleo, "clarinet")).toEqual(["to all", "see this"]);
    await expect(
      writePencil(cleo, lineId, { ...mark, eventId: "nothing", text: "x", shared: false }),
    ).rejects.toThrow("does not exist");
  });

  it("is drawn at its note, and what it says cannot become markup", async () => {
    const { director, lineId } = await withLine();
    const { svg, noteList } = await linePart(director, lineId, "concert", "widening", "wide");
    const at = noteList[2]!.eventId;
    const drawn = withPencil(svg, [
      { eventId: at, kind: "name", text: '<script>"&' },
      { eventId: "not here", kind: "name", text: "lost" },
    ]);
    const after = drawn.slice(drawn.indexOf(`id="${at}"`));
    expect(after.indexOf('class="pencil"')).toBeLessThan(after.indexOf("</g>"));
    expect(drawn).toContain("&#60;script&#62;&#34;&#38;");
    expect(drawn).not.toContain("lost");
  });
});

describe("own recordings", () => {
  it("are attached, marked by bars, heard by those who have the line, taken off and put back", async () => {
    const { director, fullBandId, lineId } = await withLine();
    const cleo = await addTo(director, "Cleo", ["clarinet"]);
    const wav = writeWav({ samples: new Float32Array(800), sampleRate: 8000 });
    const { id } = await attachRecording(director, lineId, "Backing", wav);
    await setBars(director, id, { bars: [0.5, 2.5, 4.5] });
    expect(await recordingsOf(director, lineId)).toEqual([{ id, name: "Backing", bars: [0.5, 2.5, 4.5] }]);
    await expect(setBars(director, id, { bars: [2, 1] })).rejects.toThrow("Bars follow one another");
    await expect(recordingSound(cleo, id)).rejects.toThrow("does not exist");
    await assign(director, {
      lineId,
      groupId: fullBandId,
      goalBpm: 80,
      timesPerWeek: 5,
      dueDate: "2099-01-01",
      note: "",
    });
    expect((await recordingSound(cleo, id)).bytes).toBe(wav.length);
    await setRemoved(director, id, true);
    expect(await recordingsOf(cleo, lineId)).toEqual([]);
    await setRemoved(director, id, false);
    expect(await recordingsOf(cleo, lineId)).toHaveLength(1);
    await expect(
      attachRecording(director, lineId, "x", new TextEncoder().encode("no sound")),
    ).rejects.toThrow("not a sound recording");
  });
});

describe("saved views", () => {
  it("belong to their director, have one name each, and go", async () => {
    const { director } = await anotherBand();
    const filter = ShelfFilter.parse({
      text: "",
      key: "E♭ major",
      metre: "",
      without: "eighth",
      ready: "",
      brings: "",
      crosses: false,
      like: "",
      book: "",
    });
    const { id } = await saveView(director, { name: "E♭", filter });
    expect(await savedViews(director)).toEqual([{ id, name: "E♭", filter }]);
    await expect(saveView(director, { name: "E♭", filter })).rejects.toThrow("already a view named E♭");
    const stranger = (await anotherBand()).director;
    expect(await savedViews(stranger)).toEqual([]);
    await expect(removeView(stranger, id)).rejects.toThrow("does not exist");
    await removeView(director, id);
    expect(await savedViews(director)).toEqual([]);
  });
});

describe("files", () => {
  it("all parts of the band come in one, and each reads back as its part", async () => {
    const { director, lineId } = await withLine();
    await addTo(director, "Cleo", ["clarinet"]);
    await addTo(director, "Tom", ["trombone"]);
    const { name, bytes } = await lineBundle(director, lineId);
    expect(name).toBe("Test line.zip");
    const files = unzipSync(bytes);
    expect(Object.keys(files).sort()).toEqual([
      "Test line B flat clarinet small tunes.mid",
      "Test line B flat clarinet small tunes.musicxml",
      "Test line Concert pitch.mid",
      "Test line Concert pitch.musicxml",
      "Test line Trombone small tunes.mid",
      "Test line Trombone small tunes.musicxml",
      "Test line sheets to print.html",
    ]);
    const sheets = new TextDecoder().decode(files["Test line sheets to print.html"]);
    expect(sheets.match(/<section>/g)).toHaveLength(3);
    expect(sheets).toContain("B♭ clarinet, small tunes");
    const part = readMusicXml(files["Test line Trombone small tunes.musicxml"]!).score;
    expect(written(part)).toEqual(
      written((await lineScore(director, lineId, "trombone", "small-tunes", null)).score),
    );
  });

  it("several lines are printed together, all of a player's on one sheet", async () => {
    const { director, fullBandId, lineId } = await withLine();
    await addTo(director, "Tom", ["trombone"]);
    await addTo(director, "Cleo", ["clarinet"]);
    await addTo(director, "Sid", ["snare"]);
    const { lineId: second } = await storeLine(director.bandId, line("F5:4 | G5:4"), {
      fileName: "x",
      title: "Second",
      number: 9,
    });
    const { title, players } = await setForGroup(director, [lineId, second], fullBandId);
    expect(title).toBe("Test line, No. 9");
    expect(players.map(({ playerName, lines }) => [playerName, lines.map((each) => each.title)])).toEqual([
      ["Cleo", ["Test line", "No. 9 · Second"]],
      ["Tom", ["Test line", "No. 9 · Second"]],
      ["Sid", ["Test line", "No. 9 · Second"]],
    ]);
    const part = await players[1]!.lines[1]!.part();
    expect(part.instrumentName).toBe("Trombone");
    expect(part.svg).toContain("<svg");
    await expect(setForGroup(director, [], fullBandId)).rejects.toThrow("from one to 12 lines");
    const stranger = (await anotherBand()).director;
    await expect(setForGroup(stranger, [lineId], fullBandId)).rejects.toThrow(/belongs to another band/);
  });

  it("a full score is looked at first, sorted, and noticed when it comes again", async () => {
    const { director } = await anotherBand();
    const score: Score = {
      title: "Quay Overture",
      parts: ["Flute", "Bb Clarinet 1", "Percussion"].map((name, i) => {
        const [part] = line(i === 2 ? "x:4 | x:4" : i === 0 ? "Bb4:4 | C5:4" : "F4:4 | G4:4").parts;
        const measures = part.measures.map((measure) => ({
          ...measure,
          events: measure.events.map((event) => ({ ...event, id: `p${i}${event.id}` })),
        }));
        return { ...part, measures, id: `P${i + 1}`, name };
      }) as Score["parts"],
    };
    const look = await lookAtFile(director, { fileName: "overture.musicxml" }, xml(score));
    expect(look.before).toBeNull();
    expect(look.parts.map(({ name, notes, range, use }) => [name, notes, range, use])).toEqual([
      ["Flute", 2, ["B♭4", "C5"], "line"],
      ["Bb Clarinet 1", 2, ["F4", "G4"], { instrumentId: "clarinet" }],
      ["Percussion", 2, null, { instrumentId: "snare" }],
    ]);
    const { lineId } = await importLine(
      director,
      {
        fileName: "overture.musicxml",
        uses: [
          ["P1", "line"],
          ["P2", { instrumentId: "clarinet-bass" }],
          ["P3", "leave"],
        ],
      },
      xml(score),
    );
    const { score: stored } = await newestRevision(director.bandId, lineId);
    expect(stored.parts.map((part) => [part.name, part.forInstruments ?? []])).toEqual([
      ["Flute", []],
      ["Bb Clarinet 1", ["clarinet-bass"]],
    ]);
    const again = await lookAtFile(director, { fileName: "overture.musicxml" }, xml(score));
    expect(again.before).toEqual({ lineId, title: "Quay Overture", sameNotes: false });
    const plain = await importLine(director, { fileName: "other.musicxml" }, xml(score));
    const twice = await importLine(director, { fileName: "third.musicxml" }, xml(score));
    expect(twice.before).toEqual({ lineId: plain.lineId, title: "Quay Overture", sameNotes: true });
    expect(
      (await lookAtFile((await anotherBand()).director, { fileName: "overture.musicxml" }, xml(score)))
        .before,
    ).toBeNull();
  });

  it("a MIDI file is read as a line", async () => {
    const { director } = await anotherBand();
    const { lineId } = await importLine(director, { fileName: "t.mid" }, writeMidi(tune()));
    expect(written((await newest(lineId)).score)).toEqual(written(tune()));
    await expect(
      importLine(director, { fileName: "broken.mid" }, new TextEncoder().encode("MThd broken")),
    ).rejects.toThrow(/^broken\.mid was not imported\. this MIDI file /);
  });
});
