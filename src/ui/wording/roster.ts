import { instrumentById } from "../../core/music";
import type { Column, PlannedRow, RosterError, RosterField, RowProblem } from "../../core/roster";

/** What a column of a list may hold, as it is chosen. */
export const ROSTER_COLUMNS: Record<Column, string> = {
  name: "the name",
  first: "the first name",
  last: "the family name",
  called: "what they are called",
  instruments: "instruments",
  build: "the build",
  part: "the part",
  stage: "the stage",
  groups: "groups",
  kit: "notes on the kit",
  leave: "left out",
};

export const ROSTER_PROBLEMS: Record<RosterError["reason"], string> = {
  empty: "There is no player in this list yet.",
  "too-many": "A list has at most 500 rows. Bring it in group by group.",
  "no-names": 'No column of this list holds names. Say below which one it is, or add a heading "Name".',
  "not-text":
    "This file is a workbook, not a list. Save it as CSV in your spreadsheet, or copy the rows and paste them.",
};

const FIELDS: Record<RosterField, string> = {
  instruments: "instruments",
  build: "build",
  part: "part",
  stage: "stage",
  groups: "groups",
  kit: "kit",
  called: "called name",
  back: "is back in the band",
};

/** What a row of a list would do. */
export function rowWill(row: PlannedRow): string {
  switch (row.act) {
    case "add":
      return "new player";
    case "same":
      return "here already, nothing changes";
    case "change":
      return `changes: ${row.fields.map((field) => FIELDS[field]).join(", ")}`;
    case "ask":
      return `Is this ${row.likeName}?`;
    case "double":
      return `the same as line ${row.ofLine}`;
    case "unusable":
      return "left out as it stands";
  }
}

/** What is not as it should be in a row. */
export function rowProblem(problem: RowProblem): string {
  switch (problem.kind) {
    case "no-name":
      return "there is no name";
    case "name-too-long":
      return "the name has more than 120 letters";
    case "no-instrument":
      return "there is no instrument";
    case "unknown-instrument":
      return `“${problem.typed}” is no instrument of the bench`;
    case "guessed-instrument":
      return `“${problem.typed}” is taken for ${instrumentById(problem.instrumentId).name}`;
    case "too-many-instruments":
      return "more than three instruments";
    case "unknown-stage":
      return `“${problem.typed}” is no stage`;
    case "unknown-part":
      return `“${problem.typed}” is no part`;
  }
}
