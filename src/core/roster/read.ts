import Papa from "papaparse";
import { STAGES, type Stage } from "../music";
import type { PartVoice } from "../score";
import { editDistance, tidyText } from "../text";
import { instrumentsNamed } from "./instruments";

/** What a column of a list may hold. */
export const COLUMNS = [
  "name",
  "first",
  "last",
  "called",
  "instruments",
  "build",
  "part",
  "stage",
  "groups",
  "kit",
  "leave",
] as const;
export type Column = (typeof COLUMNS)[number];

/** What is not as it should be in one row. */
export type RowProblem =
  | { kind: "no-name" }
  | { kind: "name-too-long" }
  | { kind: "no-instrument" }
  | { kind: "unknown-instrument"; typed: string }
  | { kind: "guessed-instrument"; instrumentId: string; typed: string }
  | { kind: "too-many-instruments" }
  | { kind: "unknown-stage"; typed: string }
  | { kind: "unknown-part"; typed: string };

/** A player as a list tells of them; what the list has no column or no word for is undefined. */
export interface RosterRow {
  /** Line of the list, from 1, the heading counted. */
  line: number;
  name: string;
  calledName?: string;
  instruments: string[];
  builds: Record<string, string>;
  part?: PartVoice;
  stage?: Stage;
  groups?: string[];
  kit?: string;
  problems: RowProblem[];
}

export interface Roster {
  /** The heading as it is written, or a number where there is none. */
  headings: string[];
  /** What each column is taken for. */
  columns: Column[];
  rows: RosterRow[];
}

export const MOST_ROWS = 500;
export const LONGEST_NAME = 120;
const MOST_INSTRUMENTS = 3;

/** A list that cannot be used at all, with the reason as a kind. */
export class RosterError extends Error {
  constructor(
    readonly reason: "empty" | "too-many" | "no-names" | "not-text",
    readonly rows = 0,
  ) {
    super(reason);
  }
}

/**
 * Text of a list from a file as spreadsheets save it: UTF-8, UTF-16 with its mark, else Windows-1252.
 * @throws RosterError for a file that holds no text, such as a workbook
 */
export function rosterText(bytes: Uint8Array): string {
  if (bytes[0] === 0x50 && bytes[1] === 0x4b) throw new RosterError("not-text");
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder("utf-16le").decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder("utf-16be").decode(bytes);
  let text: string;
  try {
    text = new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    text = new TextDecoder("windows-1252").decode(bytes);
  }
  if (text.includes("\u0000")) throw new RosterError("not-text");
  return text;
}

const HEADINGS: readonly [words: RegExp, column: Column][] = [
  [/^(called|nick.*|prefer.*|goes by|known as|call name|called name|rufname)$/, "called"],
  [/^(first|first name|given name|given|forename|vorname)$/, "first"],
  [/^(last|last name|surname|family name|family|nachname)$/, "last"],
  [/^(name|full name|student|student name|player|pupil|child|member|schüler.*)$/, "name"],
  [/^(instruments?|plays|instrumente?|horn in hand)$/, "instruments"],
  [/^(builds?|type of instrument|model)$/, "build"],
  [/^(parts?|voice|chair)$/, "part"],
  [/^(stage|level|how far|stufe)$/, "stage"],
  [/^(groups?|class|classes|section|ensemble|period|klasse|gruppe)$/, "groups"],
  [/^(kit|notes?|remarks?|reed|mouthpiece|equipment)$/, "kit"],
];

/**
 * Reads a pasted or saved list: comma, semicolon or tab between cells, with or without a heading.
 * @param chosen  what the columns are, where a person said so
 * @throws RosterError
 */
export function readRoster(text: string, chosen?: readonly Column[]): Roster {
  const { data } = Papa.parse<string[]>(text.replace(/^\ufeff/, "").replace(/^sep=.\r?\n/i, ""), {
    skipEmptyLines: "greedy",
    delimitersToGuess: ["\t", ";", ",", "|"],
    preview: MOST_ROWS + 2,
  });
  // A spreadsheet cell that began with a sign of a formula was written with an apostrophe before it.
  const cells = data.map((row) =>
    row.map((cell) => tidyText(cell.slice(0, 2000)).replace(/^'(?=[=+\-@])/, "")),
  );
  const [first] = cells;
  if (!first) throw new RosterError("empty");
  const width = Math.max(...cells.map((row) => row.length));
  const named = first.some((cell) => headingOf(cell) !== undefined);
  // A heading in words nobody foresaw still names no instrument where all rows under it do.
  const below = guessColumns(cells.slice(1), width).indexOf("instruments");
  const headed = named || (below >= 0 && instrumentsNamed(first[below] ?? "").found.length === 0);
  const body = headed ? cells.slice(1) : cells;
  if (body.length > MOST_ROWS) throw new RosterError("too-many", MOST_ROWS);
  if (body.length === 0) throw new RosterError("empty");
  const guessed = named ? first.map((cell) => headingOf(cell) ?? "leave") : guessColumns(body, width);
  const columns = Array.from({ length: width }, (_, i) => chosen?.[i] ?? guessed[i] ?? "leave");
  if (!columns.some((column) => column === "name" || column === "first" || column === "last"))
    throw new RosterError("no-names");
  const flipped = familyNameFirst(body, columns);
  return {
    headings: Array.from({ length: width }, (_, i) => (headed ? (first[i] ?? "") : `column ${i + 1}`)),
    columns,
    rows: body.map((row, i) => readRow(row, columns, i + (headed ? 2 : 1), flipped)),
  };
}

function headingOf(cell: string): Column | undefined {
  const plain = cell.toLowerCase().replace(/[*:_]/g, " ").replace(/\s+/g, " ").trim();
  return HEADINGS.find(([words]) => words.test(plain))?.[1];
}

/** Without a heading: the column whose cells name instruments, and before all others one for the name. */
function guessColumns(body: readonly string[][], width: number): Column[] {
  const share = (i: number, test: (cell: string) => boolean) =>
    body.filter((row) => row[i] && test(row[i]!)).length / Math.max(1, body.length);
  const columns: Column[] = Array.from({ length: width }, () => "leave");
  const isInstrument = (cell: string) => instrumentsNamed(cell).found.some(({ guessed }) => !guessed);
  const instruments = columns.findIndex((_, i) => share(i, isInstrument) > 0.5);
  if (instruments >= 0) columns[instruments] = "instruments";
  const name = columns.findIndex(
    (column, i) => column === "leave" && share(i, (cell) => /\p{L}/u.test(cell)) > 0.5,
  );
  if (name >= 0) columns[name] = "name";
  return columns;
}

/** "Haldorsen, Ines" in most cells of the name column. */
function familyNameFirst(body: readonly string[][], columns: readonly Column[]): boolean {
  const at = columns.indexOf("name");
  return at >= 0 && body.filter((row) => /^[^,]+,[^,]+$/.test(row[at] ?? "")).length > body.length / 2;
}

function readRow(
  row: readonly string[],
  columns: readonly Column[],
  line: number,
  flipped: boolean,
): RosterRow {
  const all = (column: Column) => columns.flatMap((each, i) => (each === column && row[i] ? [row[i]!] : []));
  const text = (column: Column) => all(column).join(", ");
  const problems: RowProblem[] = [];
  const whole = text("name");
  const written = whole || [text("first"), text("last")].filter(Boolean).join(" ");
  const name =
    flipped && whole.includes(",")
      ? whole
          .split(",")
          .reverse()
          .map((each) => each.trim())
          .join(" ")
      : written;
  if (!name) problems.push({ kind: "no-name" });
  if (name.length > LONGEST_NAME) problems.push({ kind: "name-too-long" });
  const { found, unknown } = instrumentsNamed(text("instruments"));
  if (found.length === 0 && unknown.length === 0) problems.push({ kind: "no-instrument" });
  for (const typed of unknown) problems.push({ kind: "unknown-instrument", typed });
  for (const { instrumentId, guessed } of found)
    if (guessed) problems.push({ kind: "guessed-instrument", instrumentId, typed: text("instruments") });
  if (found.length > MOST_INSTRUMENTS) problems.push({ kind: "too-many-instruments" });
  const builds: Record<string, string> = {};
  for (const { instrumentId, variant } of found) {
    const said =
      variant ??
      instrumentsNamed(`${text("build")} ${instrumentId}`).found.find(
        (each) => each.instrumentId === instrumentId,
      )?.variant;
    if (said) builds[instrumentId] = said;
  }
  const [stage, part] = [stageNamed(text("stage")), partNamed(text("part"))];
  if (text("stage") && !stage) problems.push({ kind: "unknown-stage", typed: text("stage") });
  if (text("part") && !part) problems.push({ kind: "unknown-part", typed: text("part") });
  const groups = all("groups").flatMap((cell) =>
    cell
      .split(/[,;|]/)
      .map((each) => each.trim())
      .filter(Boolean),
  );
  return {
    line,
    name,
    instruments: found.slice(0, MOST_INSTRUMENTS).map(({ instrumentId }) => instrumentId),
    builds,
    ...(text("called") ? { calledName: text("called") } : {}),
    ...(part ? { part } : {}),
    ...(stage ? { stage } : {}),
    ...(groups.length > 0 ? { groups: [...new Set(groups)] } : {}),
    ...(text("kit") ? { kit: text("kit") } : {}),
    problems,
  };
}

function stageNamed(cell: string): Stage | undefined {
  const plain = cell.toLowerCase().replace(/[\s_]+/g, "-");
  return plain
    ? STAGES.find(
        (stage, i) => stage === plain || plain === String(i + 1) || editDistance(plain, stage, 3) < 3,
      )
    : undefined;
}

function partNamed(cell: string): PartVoice | undefined {
  const plain = cell.toLowerCase().trim();
  if (/^(1|1st|first|i)$/.test(plain)) return "first";
  if (/^(2|2nd|second|ii|3|3rd|third)$/.test(plain)) return "second";
  if (/^bass( line)?$/.test(plain)) return "bass";
  return /^(easy|simple|easier)$/.test(plain) ? "easy" : undefined;
}
