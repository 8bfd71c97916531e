export { instrumentsNamed, type NamedInstrument } from "./instruments";
export {
  type Act,
  changedFields,
  notInList,
  type PlannedRow,
  type PresentPlayer,
  planRoster,
  type RosterField,
} from "./plan";
export {
  COLUMNS,
  type Column,
  MOST_ROWS,
  type Roster,
  RosterError,
  type RosterRow,
  type RowProblem,
  readRoster,
  rosterText,
} from "./read";
export { writeRoster } from "./write";
