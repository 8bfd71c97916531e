import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { INSTRUMENTS, STAGES } from "../../src/core/music";
import {
  instrumentsNamed,
  notInList,
  type PresentPlayer,
  planRoster,
  RosterError,
  readRoster,
  rosterText,
  writeRoster,
} from "../../src/core/roster";

const ids = (cell: string) => instrumentsNamed(cell).found.map(({ instrumentId }) => instrumentId);
const present = (name: string, about: Partial<PresentPlayer> = {}): PresentPlayer => ({
  id: `id-${name}`,
  name,
  calledName: "",
  instruments: ["flute"],
  builds: {},
  part: null,
  stage: "five-notes",
  groups: [],
  kit: "",
  left: false,
  ...about,
});

describe("instruments as people write them", () => {
  // Common practice, no published source: what stands in the lists of band offices.
  it.each([
    ["Bb Clarinet", ["clarinet"]],
    ["B♭ clarinet 2", ["clarinet"]],
    ["Alto Saxophone", ["sax-alto"]],
    ["T. Sax", ["sax-tenor"]],
    ["French Horn", ["horn"]],
    ["Tpt", ["trumpet"]],
    ["cornet", ["trumpet"]],
    ["Baritone T.C.", ["euphonium-treble"]],
    ["bass cl", ["clarinet-bass"]],
    ["percussion", ["bells", "snare"]],
    ["bells and snare", ["bells", "snare"]],
    ["Flute/Piccolo", ["flute", "piccolo"]],
    ["Posaune", ["trombone"]],
    ["tromobne", ["trombone"]],
    ["flut", ["flute"]],
    ["kazoo", []],
    ["recorder", []],
    ["", []],
  ])("%j is %j", (cell, expected) => {
    expect(ids(cell)).toEqual(expected);
  });

  it("know every name of the catalogue", () => {
    for (const { id, name } of INSTRUMENTS) expect([name, ids(name)]).toEqual([name, [id]]);
  });

  it("say when they are guessed, and name a build", () => {
    expect(instrumentsNamed("tromobne").found[0]!.guessed).toBe(true);
    expect(instrumentsNamed("trombone").found[0]!.guessed).toBe(false);
    expect(instrumentsNamed("alto").found[0]).toMatchObject({ instrumentId: "sax-alto", guessed: true });
    expect(instrumentsNamed("double horn").found[0]).toMatchObject({
      instrumentId: "horn",
      variant: "double",
    });
    expect(instrumentsNamed("trombone with F attachment").found[0]!.variant).toBe("trigger");
  });
});

describe("a list", () => {
  it("is read from a spreadsheet's tabs, by the names of its columns, in any order", () => {
    const { columns, rows } = readRoster(
      "Class\tStudent Name\tInstrument\tReed\tHomeroom\nReeds, Full\tAda Holm\tclarinet\t2½\t7b\n",
    );
    expect(columns).toEqual(["groups", "name", "instruments", "kit", "leave"]);
    expect(rows).toEqual([
      {
        line: 2,
        name: "Ada Holm",
        instruments: ["clarinet"],
        builds: {},
        groups: ["Reeds", "Full"],
        kit: "2½",
        problems: [],
      },
    ]);
  });

  it("puts first and family names together, and turns 'Holm, Ada' round", () => {
    expect(readRoster("First,Last,Instrument\nAda,Holm,flute").rows[0]!.name).toBe("Ada Holm");
    const flipped = readRoster('Name;Instrument\n"Holm, Ada";flute\n"Lind, Bo";tuba');
    expect(flipped.rows.map(({ name }) => name)).toEqual(["Ada Holm", "Bo Lind"]);
  });

  it("without a heading is told by its instruments", () => {
    const { columns, rows } = readRoster("clarinet,Ada Holm\nhorn,Bo Lind");
    expect(columns).toEqual(["instruments", "name"]);
    expect(rows.map(({ line, name }) => [line, name])).toEqual([
      [1, "Ada Holm"],
      [2, "Bo Lind"],
    ]);
  });

  it("takes columns as a person said", () => {
    const text = "Wer,Womit,Wozu\nAda Holm,tuba,Low Brass";
    expect(readRoster(text)).toMatchObject({
      columns: ["name", "instruments", "leave"],
      rows: [{ line: 2, name: "Ada Holm" }],
    });
    expect(readRoster(text, ["name", "instruments", "groups"]).rows[0]).toMatchObject({
      groups: ["Low Brass"],
    });
    expect(() => readRoster(text, ["kit", "instruments", "groups"])).toThrow(RosterError);
  });

  it("says of every row what is not as it should be", () => {
    const { rows } = readRoster(
      "Name,Instrument,Stage,Part\n,flute,,\nAda,,,\nBo,kazoo,,\nCy,flut,advanced,lead\nDee,flute,small tunes,2nd",
    );
    expect(rows.map(({ problems }) => problems.map(({ kind }) => kind))).toEqual([
      ["no-name"],
      ["no-instrument"],
      ["unknown-instrument"],
      ["guessed-instrument", "unknown-stage", "unknown-part"],
      [],
    ]);
    expect(rows[4]).toMatchObject({ stage: "small-tunes", part: "second" });
  });

  it.each([
    ["nothing", "", "empty"],
    ["a heading alone", "Name,Instrument\n", "empty"],
    ["no names", "Instrument,Stage\nflute,five notes", "no-names"],
    ["5,000 rows", `Name,Instrument\n${"Ada,flute\n".repeat(5000)}`, "too-many"],
  ])("of %s is refused with its reason", (_what, text, reason) => {
    expect(() => readRoster(text)).toThrow(expect.objectContaining({ reason }));
  });

  it("keeps names in any script and drops what nobody sees", () => {
    const { rows } = readRoster("Name,Instrument\n李 小龍,tuba\nA\u030ase\u200b Berg,oboe\nشیرین‌گل,flute");
    expect(rows.map(({ name }) => name)).toEqual(["李 小龍", "Åse Berg", "شیرین‌گل"]);
  });
});

describe("a file", () => {
  const latin = Uint8Array.from("Name;Instrument\nJ\xf6rg;Fl\xf6te", (letter) => letter.charCodeAt(0));
  it.each([
    ["UTF-8 with its mark", new TextEncoder().encode("\ufeffName;Instrument\nJörg;Flöte")],
    ["Windows-1252, as older spreadsheets save it", latin],
    [
      "UTF-16",
      Uint8Array.from([
        0xff,
        0xfe,
        ...new Uint8Array(
          new Uint16Array([..."Name;Instrument\nJörg;Flöte"].map((x) => x.charCodeAt(0))).buffer,
        ),
      ]),
    ],
  ])("in %s is read", (_what, bytes) => {
    const { rows } = readRoster(rosterText(bytes));
    expect(rows).toMatchObject([{ name: "Jörg", instruments: ["flute"] }]);
  });

  it("that is a workbook or no text is refused", () => {
    expect(() => rosterText(Uint8Array.from([0x50, 0x4b, 3, 4]))).toThrow(RosterError);
    expect(() => rosterText(Uint8Array.from([1, 0, 2, 0, 3]))).toThrow(RosterError);
  });
});

describe("what importing would do", () => {
  const plan = (text: string, players: PresentPlayer[]) => planRoster(readRoster(text).rows, players);
  const acts = (text: string, players: PresentPlayer[]) => plan(text, players).map(({ act }) => act);

  it("knows players again by name, whatever its letters' case and accents", () => {
    expect(acts("Name,Instrument\nASE BERG,flute", [present("Åse Berg")])).toEqual(["same"]);
  });

  it("tells changes field by field, and empty cells change nothing", () => {
    const [row] = plan("Name,Instrument,Stage,Kit\nAda Holm,oboe,small tunes,\n", [
      present("Ada Holm", { kit: "reed 2" }),
    ]);
    expect(row).toMatchObject({ act: "change", fields: ["instruments", "stage"] });
  });

  it("keeps two children of one name apart by what they play", () => {
    const players = [
      present("Ada Holm", { id: "1", instruments: ["flute"] }),
      present("Ada Holm", { id: "2", instruments: ["tuba"] }),
    ];
    const rows = plan("Name,Instrument\nAda Holm,tuba\nAda Holm,flute\nAda Holm,horn", players);
    expect(rows.map((row) => [row.act, "playerId" in row ? row.playerId : null])).toEqual([
      ["same", "2"],
      ["same", "1"],
      ["add", null],
    ]);
  });

  it("asks about a name that is nearly one here, and shows a row that stands twice", () => {
    const rows = plan("Name,Instrument\nInes Haldorson,clarinet\nBo Lind,tuba\nBo  lind,tuba", [
      present("Ines Haldorsen", { instruments: ["clarinet"] }),
    ]);
    expect(rows).toMatchObject([
      { act: "ask", likeName: "Ines Haldorsen" },
      { act: "add" },
      { act: "double", ofLine: 3 },
    ]);
  });

  it("brings back who had left, and names who is not in the list", () => {
    const players = [present("Ada Holm", { left: true }), present("Bo Lind")];
    const rows = plan("Name,Instrument\nAda Holm,flute", players);
    expect(rows[0]).toMatchObject({ act: "change", fields: ["back"] });
    expect(notInList(rows, players).map(({ name }) => name)).toEqual(["Bo Lind"]);
  });

  const person = fc.record({
    name: fc.stringMatching(/^[A-ZÅÆØ][a-zåæø]{2,9} [A-Z][a-z]{2,9}$/),
    instruments: fc.uniqueArray(fc.constantFrom(...INSTRUMENTS.map(({ id }) => id)), {
      minLength: 1,
      maxLength: 2,
    }),
    stage: fc.constantFrom(...STAGES),
    part: fc.constantFrom(null, "first" as const, "easy" as const),
    kit: fc.constantFrom("", "reed 2½", "=SUM(A1)", "-cmd", "+1", "@x", 'a "big" one, blue'),
    groups: fc.subarray(["Reeds", "Low Brass & Co."]),
    calledName: fc.constantFrom("", "Addi"),
  });

  it("is nothing at all for the list that the band itself gave out", () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(person, { selector: ({ name }) => name.toLowerCase(), maxLength: 20, minLength: 1 }),
        (people) => {
          const players = people.map(
            (each, i): PresentPlayer => ({ ...each, id: String(i), builds: {}, left: false }),
          );
          const text = writeRoster(players);
          expect(planRoster(readRoster(text).rows, players).map(({ act }) => act)).toEqual(
            players.map(() => "same"),
          );
          // No cell begins as a formula.
          expect(text).not.toMatch(/(^|[,;\n])"?[=+\-@]/m);
        },
      ),
      { numRuns: 150 },
    );
  });
});
