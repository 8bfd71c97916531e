import { zipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { engraveShorthand, LINES, SNARE_LINE } from "../../src/core/book";
import { INSTRUMENTS, instrumentById, pitchId, pitchName } from "../../src/core/music";
import {
  acceptScore,
  addFractions,
  barQuarters,
  compareFractions,
  derivePart,
  fraction,
  playOutOrder,
  readMusicXml,
  type Score,
  ScoreReadError,
  sumFractions,
  timeline,
  writeMusicXml,
} from "../../src/core/score";
import { line } from "../support/music";

const bytes = (text: string) => new TextEncoder().encode(text);
const writtenNotes = (score: Score) =>
  score.parts[0].measures.flatMap((measure) =>
    measure.events.flatMap((event) => (event.pitch ? [pitchId(event.pitch)] : [])),
  );
const order = (score: Score, withoutRepeats = false) =>
  playOutOrder(score.parts[0].measures, { withoutRepeats })
    .map((played) => played.measureIndex + 1)
    .join(" ");

describe("fractions", () => {
  it("adds, reduces and compares without floats", () => {
    expect(addFractions("1/3", "1/6")).toBe("1/2");
    expect(fraction(-6, -4)).toBe("3/2");
    expect(sumFractions(Array(12).fill("1/3"))).toBe("4");
    expect(compareFractions("2/3", "3/4")).toBeLessThan(0);
    expect(() => fraction(1, 0)).toThrow(RangeError);
  });
});

describe("MusicXML", () => {
  it.each([...LINES, SNARE_LINE])("comes back the same: $title", (book) => {
    const score = engraveShorthand(book);
    const { score: again, notUnderstood } = readMusicXml(bytes(writeMusicXml(score)));
    expect(notUnderstood).toEqual([]);
    expect(
      again.parts[0].measures.map((measure) => ({
        ...measure,
        events: measure.events.map(({ wholeMeasure: _w, ...event }) => event),
      })),
    ).toEqual(score.parts[0].measures);
  });

  it("writes titles that hold signs of markup, or characters that XML cannot hold", () => {
    const { title } = readMusicXml(
      bytes(writeMusicXml(line("Bb4:4", { title: 'A <b> & "c"\u0001\u0008' }))),
    ).score;
    expect(title).toBe('A <b> & "c"');
  });

  it("keeps a transposing part in written pitch with its transposition", () => {
    const { score } = derivePart(line("Bb4:1 C5:1 D5:2"), instrumentById("sax-bari"), "widening");
    const again = readMusicXml(bytes(writeMusicXml(score))).score;
    expect(again.parts[0].soundsBy).toEqual({ letters: -12, semitones: -21 });
    expect(writtenNotes(again)).toEqual(writtenNotes(score));
  });

  it("reads a compressed file by its container", () => {
    const zipped = zipSync({
      "META-INF/container.xml": bytes(
        '<container><rootfiles><rootfile full-path="tune.musicxml"/></rootfiles></container>',
      ),
      "tune.musicxml": bytes(writeMusicXml(line("Bb4:4"))),
    });
    expect(readMusicXml(zipped).score.title).toBe("Test line");
  });

  it("reads a file ordered by time as the same score as one ordered by part", () => {
    const xml = writeMusicXml(line("F5:1 | D5:1( Bb4:1) D5:1 F5:1 | G5:2~ G5:1 r:1 | F5:3"));
    const [, part, measures] = /<part id="(P1)">(.*)<\/part>/s.exec(xml)!;
    const timewise = xml
      .replace(
        /<part id="P1">.*<\/part>/s,
        measures!.replaceAll(
          /(<measure[^>]*>)(.*?)<\/measure>/gs,
          `$1<part id="${part}">$2</part></measure>`,
        ),
      )
      .replaceAll("score-partwise", "score-timewise");
    expect(timewise).toContain("<score-timewise");
    expect(readMusicXml(bytes(timewise))).toEqual(readMusicXml(bytes(xml)));
  });

  it("refuses a compressed file whose container points outside it, and one that unpacks too large", () => {
    const container = (path: string) =>
      bytes(`<container><rootfiles><rootfile full-path="${path}"/></rootfiles></container>`);
    const outside = zipSync({
      "META-INF/container.xml": container("../../etc/passwd"),
      "tune.musicxml": bytes(writeMusicXml(line("Bb4:4"))),
    });
    expect(() => readMusicXml(outside)).toThrow("the compressed file names no score inside it");
    const bomb = zipSync(
      { "META-INF/container.xml": container("a.xml"), "a.xml": new Uint8Array(25_000_000) },
      { level: 9 },
    );
    expect(bomb.length).toBeLessThan(100_000);
    const start = performance.now();
    expect(() => readMusicXml(bomb)).toThrow("unpacks to more than 20 MB");
    expect(performance.now() - start).toBeLessThan(2000);
    expect(() =>
      readMusicXml(
        zipSync({ "META-INF/container.xml": container("a.xml"), "a.xml": bytes("<score-partwise>") }).slice(
          0,
          60,
        ),
      ),
    ).toThrow(/damaged|names no score/);
  });

  const wrap = (measures: string) =>
    `<score-partwise><part-list><score-part id="P1"><part-name>x</part-name></score-part></part-list><part id="P1">${measures}</part></score-partwise>`;
  const note = (pitch: string, duration: number) =>
    `<note><pitch>${pitch}</pitch><duration>${duration}</duration><type>quarter</type></note>`;
  const C5 = "<step>C</step><octave>5</octave>";

  it.each([
    ["not XML at all", "hello", /well-formed/],
    ["an unclosed element", "<score-partwise>\n<part>", /Line 2: .*well-formed/],
    ["another kind of XML", "<html></html>", /not MusicXML/],
    ["entity declarations", '<!DOCTYPE a [<!ENTITY b "c">]><score-partwise/>', /entities are refused/],
    ["deep nesting", "<a>".repeat(100), /too deeply/],
    [
      "no notes",
      wrap("<measure number='1'><attributes><divisions>1</divisions></attributes></measure>"),
      /no notes/,
    ],
    [
      "a bar longer than any metre",
      wrap(`<measure number="1"><attributes><divisions>1</divisions></attributes>${note(C5, 129)}</measure>`),
      /bar 1 holds 129 quarter notes, more than the 4/,
    ],
  ])("refuses %s with the reason", (_name, text, reason) => {
    expect(() => readMusicXml(bytes(text))).toThrow(ScoreReadError);
    expect(() => readMusicXml(bytes(text))).toThrow(reason);
  });

  const bars = (...inside: string[]) =>
    readMusicXml(
      bytes(
        wrap(
          inside
            .map(
              (each, i) =>
                `<measure number="${i + 1}">${i === 0 ? "<attributes><divisions>2</divisions></attributes>" : ""}${each}</measure>`,
            )
            .join(""),
        ),
      ),
    );
  const full = note(C5, 8);

  it("gives a bar that is longer or shorter than its metre one of its own, and says so", () => {
    const { score, notUnderstood } = bars(full, note(C5, 6), full, note(C5, 10), full);
    expect(notUnderstood).toEqual([
      "the metre 4/4 in bar 2 became 3/4, to fit the notes",
      "the metre 4/4 in bar 4 became 5/4, to fit the notes",
    ]);
    expect(score.parts[0].measures.map(({ time }) => time?.beats)).toEqual([undefined, 3, 4, 5, 4]);
    expect(() => acceptScore(score)).not.toThrow();
  });

  it("takes a chant without bars of one length", () => {
    const { score } = bars(note(C5, 54), note(C5, 12));
    expect(score.parts[0].measures[0]!.time).toEqual({ beats: 27, beatType: 4 });
    expect(() => acceptScore(score)).not.toThrow();
  });

  it("makes each voice a part, with rests where it is silent, and a step forward a rest", () => {
    const { score, notUnderstood } = bars(
      `<forward><duration>4</duration></forward>${note(C5, 4)}<backup><duration>8</duration></backup>${note("<step>A</step><octave>3</octave>", 8)}`,
      full,
    );
    expect(notUnderstood).toEqual([]);
    expect(score.parts.map(({ name }) => name)).toEqual(["x", "x, voice 2"]);
    expect(
      score.parts.map((part) =>
        part.measures.flatMap((measure) => measure.events).map(({ kind, duration }) => `${kind} ${duration}`),
      ),
    ).toEqual([
      ["rest 2", "note 2", "note 4"],
      ["note 4", "rest 4"],
    ]);
    const ids = score.parts.flatMap((part) => part.measures.flatMap((m) => m.events.map(({ id }) => id)));
    expect(new Set(ids).size).toBe(ids.length);
  });

  it("keeps the top note of a chord, or the lowest where asked, with its own tie", () => {
    const chord =
      "<note><pitch><step>E</step><octave>4</octave></pitch><duration>4</duration><type>half</type></note>" +
      '<note><chord/><pitch><step>G</step><octave>4</octave></pitch><duration>4</duration><tie type="start"/><type>half</type></note>' +
      '<note><pitch><step>G</step><octave>4</octave></pitch><duration>4</duration><tie type="stop"/><type>half</type></note>';
    expect(timeline(bars(chord).score).notes.map((each) => [each.midi, each.durationQuarters])).toEqual([
      [67, 4],
    ]);
    const low = readMusicXml(
      bytes(wrap(`<measure number="1"><attributes><divisions>2</divisions></attributes>${chord}</measure>`)),
      { chords: "bottom" },
    );
    expect(timeline(low.score).notes.map((each) => each.midi)).toEqual([64, 67]);
    expect(low.notUnderstood).toEqual([
      "the upper notes of a chord in bar 1 were left out, the lowest one kept",
    ]);
  });

  it("leaves cue notes out, reads a drawn tie as a tie, and a quarter tone without its quarter", () => {
    const cue = note(C5, 4).replace("<note>", "<note><cue/>");
    const tied = (type: string) =>
      note(C5, 2).replace("</note>", `<notations><tied type="${type}"/></notations></note>`);
    const { score, notUnderstood } = bars(
      cue + tied("start") + tied("stop"),
      note("<step>C</step><alter>0.5</alter><octave>5</octave>", 8),
    );
    expect(notUnderstood).toEqual([
      "cue notes in bar 1 were left out",
      "a quarter tone in bar 2 was read without its quarter",
    ]);
    expect(timeline(score).notes.map((each) => [each.onsetQuarters, each.durationQuarters])).toEqual([
      [2, 2],
      [4, 4],
    ]);
  });

  it("plays endings as they are printed, though nobody wrote how often: 1, 2 and then 3", () => {
    const ending = (passes: string, more: string) =>
      `<barline location="left"><ending number="${passes}" type="start"/></barline>${full}<barline location="right"><ending number="${passes}" type="stop"/>${more}</barline>`;
    const { score } = bars(full, ending("1, 2", '<repeat direction="backward"/>'), ending("3", ""), full);
    const order = playOutOrder(score.parts[0].measures).map(({ measureIndex }) => measureIndex + 1);
    expect(order).toEqual([1, 2, 1, 2, 1, 3, 4]);
  });

  it("takes letters of Latin-1 for what they are, and says so", () => {
    const xml = wrap(
      `<measure number="1"><attributes><divisions>2</divisions></attributes>${full}</measure>`,
    );
    const latin = new Uint8Array(
      [...`<score-partwise><movement-title>Fähre</movement-title>${xml.slice(16)}`].map((c) =>
        c.charCodeAt(0),
      ),
    );
    const { score, notUnderstood } = readMusicXml(latin);
    expect(score.title).toBe("Fähre");
    expect(notUnderstood).toEqual(["the text is not UTF-8: it was read as Latin-1"]);
  });

  it("takes letter steps from the semitones where a file gives no more", () => {
    const { score } = bars(
      `<attributes><transpose><chromatic>-9</chromatic></transpose></attributes>${full}`,
    );
    expect(score.parts[0].soundsBy).toEqual({ letters: -5, semitones: -9 });
  });

  it("lists what it did not understand and keeps the notes", () => {
    const { score, notUnderstood } = readMusicXml(
      bytes(
        wrap(
          `<measure number="1"><attributes><divisions>1</divisions></attributes><figured-bass/>${note(C5, 4)}</measure>`,
        ),
      ),
    );
    expect(notUnderstood).toEqual(["<figured-bass> in bar 1 was left out"]);
    expect(writtenNotes(score)).toEqual(["C5"]);
  });
});

describe("play-out order", () => {
  it("plays a repeat with two endings, and only the last ending without repeats", () => {
    const score = engraveShorthand(LINES.find((each) => each.title === "Lamplighter")!);
    expect(order(score)).toBe("1 2 3 4 5 6 7 8 1 2 3 4 5 6 7 9");
    expect(order(score, true)).toBe("1 2 3 4 5 6 7 9");
  });

  it("goes back to the start and stops at Fine", () => {
    expect(order(engraveShorthand(LINES.find((each) => each.introduces.startsWith("D.C."))!))).toBe(
      "1 2 3 4 5 6 7 8 9 10 11 12 13 14 15 16 1 2 3 4 5 6 7 8",
    );
  });

  it("are read from words as they are written, and from no other words that begin alike", () => {
    const read = (words: string) => {
      const score = line("Bb4:4 | C5:4");
      score.parts[0].measures[1]!.words = words;
      const [, measure] = readMusicXml(new TextEncoder().encode(writeMusicXml(score))).score.parts[0]
        .measures;
      return measure!.jump ?? measure!.words;
    };
    for (const words of ["D.C.", "DC", "D. C. al Fine", "d.c. al fine", "Da Capo al Fine"])
      expect([words, read(words)]).toEqual([words, "da-capo"]);
    for (const words of ["D.S.", "DS al Coda", "d. s.", "dal segno"])
      expect([words, read(words)]).toEqual([words, "dal-segno"]);
    for (const words of ["D clarinets only", "Ds", "dsharp", "DSus", "da capolino"])
      expect(read(words)).toBe(words);
  });

  it("does not take repeats again after D.C.", () => {
    expect(order(line("[: Bb4:4 | C5:4 :] | D5:4 FINE | Eb5:4 DC"))).toBe("1 2 1 2 3 4 1 2 3");
  });

  it("jumps to the coda after D.S. al Coda", () => {
    const score = line("Bb4:4 | C5:4 | D5:4 | Eb5:4 | F5:4");
    const [, second, third, fourth, fifth] = score.parts[0].measures;
    second!.segno = true;
    third!.toCoda = true;
    fourth!.jump = "dal-segno";
    fifth!.coda = true;
    expect(order(score)).toBe("1 2 3 4 2 3 5");
  });
});

describe("timeline", () => {
  it("merges ties into one sounding note and keeps its first id", () => {
    const { notes } = timeline(line("Bb4:2 C5:2~ | C5:2 D5:2"), { bpm: 60 });
    expect(notes.map((note) => [note.eventId, note.onsetSec, note.durationSec])).toEqual([
      ["n1-1", 0, 2],
      ["n1-2", 2, 4],
      ["n2-2", 6, 2],
    ]);
  });

  it("counts a pickup from its place in the bar", () => {
    const { notes, pickupOffsetQuarters } = timeline(line("F5:1 | D5:2 Bb4:2 | D5:3"));
    expect(notes[0]).toMatchObject({ measure: "0", beat: 4 });
    expect(notes[1]).toMatchObject({ measure: "1", beat: 1 });
    expect(pickupOffsetQuarters).toBe(3);
  });

  it("counts six-eight in dotted quarters", () => {
    const { notes, beatQuarters } = timeline(
      line("Bb4:3/2 C5:1/2 D5:1/2 Eb5:1/2", { metre: [6, 8], bpm: 60 }),
      { bpm: 60 },
    );
    expect(beatQuarters).toBe(1.5);
    expect(notes[1]!.onsetSec).toBeCloseTo(1, 9);
    expect(notes[1]!.beat).toBe(2);
  });

  it("refuses a tempo nobody plays", () => {
    expect(() => timeline(line("Bb4:4"), { bpm: 5 })).toThrow(/between 20 and 400/);
  });
});

describe("parts", () => {
  // Typed in by hand before the code was run.
  it.each([
    ["clarinet", ["C4", "D4", "E4", "F4", "G4"], 0],
    ["trumpet", ["C4", "D4", "E4", "F4", "G4"], 0],
    ["sax-alto", ["G4", "A4", "B4", "C5", "D5"], 1],
    ["sax-tenor", ["C5", "D5", "E5", "F5", "G5"], 0],
    ["horn", ["F4", "G4", "A4", "Bb4", "C5"], -1],
    ["flute", ["Bb4", "C5", "D5", "Eb5", "F5"], -2],
    ["trombone", ["Bb2", "C3", "D3", "Eb3", "F3"], -2],
    ["tuba", ["Bb1", "C2", "D2", "Eb2", "F2"], -2],
    ["bells", ["Bb4", "C5", "D5", "Eb5", "F5"], -2],
    ["clarinet-eb", ["G3", "A3", "B3", "C4", "D4"], 1],
  ])("gives %s its five notes in its own octave and key", (id, expected, fifths) => {
    const { score, outOfRange } = derivePart(
      line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:4"),
      instrumentById(id),
      "five-notes",
    );
    expect(writtenNotes(score)).toEqual(expected);
    expect(score.parts[0].measures[0]!.key!.fifths).toBe(fifths);
    expect(outOfRange).toEqual([]);
  });

  it("says which notes leave the range of the stage", () => {
    const { outOfRange } = derivePart(line("Bb4:2 Bb5:2 | F6:4"), instrumentById("clarinet"), "five-notes");
    expect(outOfRange.map((pitch) => pitchName(pitch)).length).toBeGreaterThan(0);
  });

  it("keeps every bar's length for every instrument", () => {
    for (const book of LINES) {
      for (const instrument of INSTRUMENTS) {
        const { score } = derivePart(engraveShorthand(book), instrument, "widening");
        const full = barQuarters({ beats: book.metre[0], beatType: book.metre[1] });
        for (const measure of score.parts[0].measures)
          if (!measure.implicit)
            expect(sumFractions(measure.events.map((event) => event.duration))).toBe(full);
      }
    }
  });

  it("writes no key beyond six sharps or flats", () => {
    for (let fifths = -7; fifths <= 7; fifths++) {
      for (const instrument of INSTRUMENTS.filter((each) => each.ranges && !each.drums)) {
        const { score } = derivePart(line("Bb4:4", { fifths }), instrument, "widening");
        expect(Math.abs(score.parts[0].measures[0]!.key!.fifths)).toBeLessThanOrEqual(6);
      }
    }
  });

  it("gives the snare the rhythm without pitches", () => {
    const { score } = derivePart(line("Bb4:1 C5:1 r:2"), instrumentById("snare"), "small-tunes");
    expect(score.parts[0].clef).toBe("percussion");
    expect(timeline(score).notes.map((note) => note.midi)).toEqual([null, null]);
  });
});
