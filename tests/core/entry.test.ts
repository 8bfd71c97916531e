import { describe, expect, it } from "vitest";
import { beginHistory, redo, remember, undo } from "../../src/core/history";
import { pitchId } from "../../src/core/music";
import {
  barSignsAt,
  beginEntry,
  type Entry,
  entryOf,
  lackOf,
  type NewLine,
  pressKey,
  readMusicXml,
  type Score,
  scoreOfEntry,
  setBarSigns,
  setDynamic,
  setLyric,
  setTempoWords,
  timeline,
  writeMusicXml,
} from "../../src/core/score";
import { CORPUS } from "../support/corpus";
import { line } from "../support/music";

const NEW: NewLine = {
  title: "Typed",
  fifths: -2,
  mode: "major",
  time: { beats: 4, beatType: 4 },
  pickup: null,
  bpm: 80,
  beatQuarters: "1",
};
/** Keys as they are typed; long key names stand in braces. */
const type = (entry: Entry, keys: string) =>
  [...keys.matchAll(/\{([^}]+)\}|(.)/g)].reduce((now, [, name, sign]) => pressKey(now, name ?? sign!), entry);
const typed = (keys: string, about: Partial<NewLine> = {}) =>
  scoreOfEntry(type(beginEntry({ ...NEW, ...about }), keys));
const notes = (score: Score) =>
  score.parts[0].measures
    .map((measure) =>
      measure.events
        .map(
          (event) =>
            `${event.pitch ? pitchId(event.pitch) : "r"}:${event.duration}${event.tieStart ? "~" : ""}`,
        )
        .join(" "),
    )
    .join(" | ");
/** Everything but the ids and the composer, which typing does not set. */
const content = (score: Score) =>
  score.parts[0].measures.map(({ id: _id, ...measure }) => ({
    ...measure,
    events: measure.events.map(({ id: _event, wholeMeasure: _whole, ...event }) => event),
  }));

describe("a line typed by keys alone", () => {
  it("sixteen bars with ties, slurs and a pickup equal their MusicXML", () => {
    // The same tune three ways: keys, the shorthand, and the MusicXML that the shorthand gives.
    const music =
      "F5:1 | D5:1 Bb4:1 D5:1 F5:1 | G5:2 F5:1 Eb5:1 | D5:1( F5:1) Eb5:1( C5:1) | Bb4:3 r:1 | D5:1 Bb4:1 D5:1 F5:1 | " +
      "G5:2~ G5:1 F5:1 | Eb5:1/2 D5:1/2 C5:1/2 Bb4:1/2 D5:2 | C5:4 | F5:1( G5:1) F5:1( Eb5:1) | D5:2 F5:2 | " +
      "Eb5:3/2 D5:1/2 C5:1 Bb4:1 | C5:3~ C5:1 | D5:1 Bb4:1 D5:1 F5:1 | G5:2 F5:1 Eb5:1 | D5:1 Eb5:1 C5:1 C5:1 | Bb4:3";
    const keys =
      "4f{Shift+ArrowUp}" +
      "dbdf" +
      "2g4fe" +
      "(df)(ec)" +
      "2.b4r" +
      "dbdf" +
      "2gt4gf" +
      "8edcb2d" +
      "1c" +
      "4(fg)(fe)" +
      "2df" +
      "4.e8d4cb" +
      "2.ct4c" +
      "dbdf" +
      "2g4fe" +
      "decc" +
      "2.b";
    const score = typed(keys, { pickup: "1" });
    const fromXml = readMusicXml(new TextEncoder().encode(writeMusicXml(line(music)))).score;
    expect(content(score)).toEqual(content(fromXml));
    expect(score.parts[0].measures).toHaveLength(17);
    expect(lackOf(score)).toBeNull();
  });
});

describe("keys", () => {
  it("choose the nearest octave and follow the signature and the accidentals of the bar", () => {
    expect(notes(typed("4fgab"))).toBe("F4:1 G4:1 A4:1 Bb4:1");
    expect(notes(typed("4f+gfg f"))).toBe("F#4:1 G4:1 F#4:1 G4:1 | r:1 F4:1");
    expect(notes(typed("4b=b{Shift+ArrowUp}a-{ArrowDown}"))).toBe("B4:1 B5:1 G5:1");
  });

  it("fill bars by themselves, splitting and tying what crosses a barline", () => {
    expect(notes(typed("2.f2gf"))).toBe("F4:3 G4:1~ | G4:1 F4:2");
    expect(notes(typed("1f", { time: { beats: 3, beatType: 4 } }))).toBe("F4:3~ | F4:1");
    expect(notes(typed("4.f1r"))).toBe("F4:3/2 r:1/2 r:2 | r:3/2");
  });

  it("make triplets whole: three notes in the time of two, gone together when one is deleted", () => {
    const triplet = typed("83cde4f");
    expect(notes(triplet)).toBe("C5:1/3 D5:1/3 Eb5:1/3 F5:1");
    expect(triplet.parts[0].measures[0]!.events.map((event) => event.tuplet)).toEqual([
      { actual: 3, normal: 2, start: true },
      { actual: 3, normal: 2 },
      { actual: 3, normal: 2, stop: true },
      undefined,
    ]);
    expect(notes(typed("83cde4f{ArrowLeft}{ArrowLeft}{Backspace}"))).toBe("F5:1");
  });

  it("tie only what stays on its pitch", () => {
    expect(notes(typed("4ftgtg"))).toBe("F4:1 G4:1~ G4:1");
  });

  it("set and take back signs on the note before the cursor", () => {
    const event = (keys: string) => typed(keys).parts[0].measures[0]!.events[0]!;
    expect(event("4f'>,^")).toMatchObject({
      articulations: ["staccato", "accent"],
      breath: true,
      fermata: true,
    });
    const plain = event("4f'',,^^tt");
    for (const sign of ["articulations", "breath", "fermata", "tieStart"])
      expect(plain).not.toHaveProperty(sign);
    expect(
      scoreOfEntry(setDynamic(type(beginEntry(NEW), "f"), "mf")).parts[0].measures[0]!.events[0]!.dynamic,
    ).toBe("mf");
  });

  it("repeat a section, in the bar of the cursor", () => {
    const { measures } = typed("1fg;f:g").parts[0];
    expect(measures.map(({ repeatStart, repeatEnd }) => [repeatStart, repeatEnd])).toEqual([
      [undefined, undefined],
      [true, undefined],
      [undefined, { times: 2 }],
      [undefined, undefined],
    ]);
  });

  it("insert and delete anywhere, and mean nothing where they mean nothing", () => {
    expect(notes(typed("4fga{Home}c{End}b{ArrowLeft}{Delete}"))).toBe("C5:1 F4:1 G4:1 A4:1");
    const entry = beginEntry(NEW);
    for (const key of ["Backspace", "Delete", "z", "F5", "+", "t", ":"])
      expect(pressKey(entry, key)).toBe(entry);
  });

  it("write rhythm on one line for unpitched instruments", () => {
    const score = typed("4f8ff4r", { unpitched: true });
    expect(score.parts[0].clef).toBe("percussion");
    expect(notes(score)).toBe("r:1 r:1/2 r:1/2 r:1");
    expect(score.parts[0].measures[0]!.events.map((event) => event.kind)).toEqual([
      "note",
      "note",
      "note",
      "rest",
    ]);
  });

  it("say what the last bar lacks", () => {
    expect(lackOf(typed("4fg"))).toBe("2");
    expect(lackOf(typed("1f"))).toBeNull();
  });

  it("refuse a triplet over the barline and a pickup as long as a bar", () => {
    expect(() => typed("2.f43gab")).toThrow(/triplet does not fit/);
    expect(() => beginEntry({ ...NEW, pickup: "4" })).toThrow(RangeError);
  });
});

describe("undo and redo", () => {
  it("go back to the start and forth again, and a new key ends what could be redone", () => {
    let history = beginHistory(beginEntry(NEW));
    const states = [history.now];
    for (const key of ["f", "+", "8", "g", "t", "Backspace"]) {
      history = remember(history, pressKey(history.now, key));
      states.push(history.now);
    }
    expect(remember(history, pressKey(history.now, "z"))).toBe(history);
    for (const state of states.toReversed().slice(1)) {
      history = undo(history);
      expect(history.now).toBe(state);
    }
    expect(undo(history).now).toBe(states[0]);
    for (const state of states.slice(1)) {
      history = redo(history);
      expect(history.now).toBe(state);
    }
    history = remember(undo(history), pressKey(history.now, "a"));
    expect(redo(history).now).toBe(history.now);
  });
});

describe("opening a line for typing", () => {
  it.each(CORPUS)("keeps everything and every id: $title", ({ score }) => {
    const again = scoreOfEntry(entryOf(score));
    const plain = (of: Score) =>
      of.parts[0].measures.map((measure) => ({
        ...measure,
        events: measure.events.map(({ wholeMeasure: _whole, ...event }) => event),
      }));
    expect(plain(again)).toEqual(plain(score));
  });

  it("gives new notes ids that no old note has", () => {
    const entry = type(entryOf(typed("4fgab")), "4c");
    const ids = scoreOfEntry(entry).parts[0].measures.flatMap((measure) =>
      measure.events.map((event) => event.id),
    );
    expect(new Set(ids).size).toBe(5);
  });
});

describe("signs that no key writes", () => {
  const bars = (entry: Entry) => scoreOfEntry(entry).parts[0].measures;
  const at = (entry: Entry, cursor: number): Entry => ({ ...entry, cursor });

  it("put bars under endings with brackets that close by themselves, and the first goes back", () => {
    let entry = type(beginEntry(NEW), "1fgab");
    entry = setBarSigns(at(entry, 2), { ending: 1 });
    entry = setBarSigns(at(entry, 3), { ending: 1 });
    entry = setBarSigns(at(entry, 4), { ending: 2 });
    expect(bars(entry).map(({ ending }) => ending ?? null)).toEqual([
      null,
      { passes: [1], start: true },
      { passes: [1], stop: true },
      { passes: [2], start: true, stop: true },
    ]);
    expect(bars(entry).map(({ repeatEnd }) => Boolean(repeatEnd))).toEqual([false, false, true, false]);
    expect(timeline(scoreOfEntry(entry)).measures.map(({ measureIndex }) => measureIndex)).toEqual([
      0, 1, 2, 0, 3,
    ]);
    expect(barSignsAt(at(entry, 4))).toMatchObject({ ending: 2 });
    const without = setBarSigns(at(entry, 3), { ending: null });
    expect(bars(without)[1]!.ending).toEqual({ passes: [1], start: true, stop: true });
    expect(bars(without)[2]!.ending).toBeUndefined();
  });

  it("send the line back to its beginning and end it at Fine", () => {
    let entry = type(beginEntry(NEW), "1fgab");
    entry = setBarSigns(at(entry, 2), { fine: true });
    entry = setBarSigns(at(entry, 4), { daCapo: true, words: "  rit. " });
    expect(timeline(scoreOfEntry(entry)).measures.map(({ measureIndex }) => measureIndex)).toEqual([
      0, 1, 2, 3, 0, 1,
    ]);
    expect(bars(entry)[3]!.words).toBe("rit.");
    expect(barSignsAt(entry)).toEqual({ ending: null, daCapo: true, fine: false, words: "rit." });
    expect(bars(setBarSigns(entry, { daCapo: false, words: "" }))[3]).not.toHaveProperty("jump");
  });

  it("write a word under a note and over the tempo, and survive MusicXML", () => {
    let entry = setLyric(type(beginEntry({ ...NEW, fifths: -3, mode: "minor" }), "4c"), "Har-");
    entry = setTempoWords(setLyric(type(entry, "d"), "bour"), "Lively");
    entry = setBarSigns(entry, { fine: true });
    const { score } = readMusicXml(new TextEncoder().encode(writeMusicXml(scoreOfEntry(entry))));
    const [bar] = score.parts[0].measures;
    expect(bar!.events.map(({ lyric }) => lyric)).toEqual(["Har-", "bour"]);
    expect(bar).toMatchObject({ fine: true, key: { fifths: -3, mode: "minor" }, tempo: { words: "Lively" } });
    expect(setLyric(entry, " ").tokens[1]).not.toHaveProperty("lyric");
  });

  it("mean nothing before the first note", () => {
    const empty = beginEntry(NEW);
    expect(setBarSigns(empty, { fine: true }).frames).toEqual(empty.frames);
    expect(setLyric(empty, "la")).toBe(empty);
  });
});
