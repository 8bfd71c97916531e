export { type DirectorRow, directorsOfBand } from "./directors";
export {
  dueJobs,
  forgottenTakes,
  type JobRow,
  lockOne,
  lostJobs,
  queueJob,
  takesHeardByOthers,
} from "./jobs";
export { addUpShown, type KnowledgeRows, knowledgeRows, type TeachingRow, teachingsOf } from "./knowledge";
export {
  barNumbersOf,
  isGivenTo,
  type LineHead,
  newestRevisionOf,
  type PlannedLine,
  plannedLines,
  type ShelfRow,
  scoreTexts,
  shelfRows,
  storedOutlines,
  timesGiven,
} from "./lines";
export {
  aloneWithPlan,
  type BarTakes,
  barTakes,
  type DueLine,
  givenTitles,
  handoutOnStand,
  type LineMet,
  type LineTakes,
  linesDue,
  linesMet,
  lineTakes,
  planVersions,
  raiseCalendar,
  raisePlan,
  type StandStripRow,
  stripIsFor,
  stripsBehind,
  stripsOnStand,
  ticksOf,
} from "./plan";
export { everyTakeOf, everyTaskOf, givenWithout, type PlayerTakeRow, type PlayerTaskRow } from "./player";
export {
  type FactRow,
  factCounts,
  factsOfKind,
  factsOfTask,
  keepFacts,
  openQuestions,
  practisedDays,
  practisedLines,
  type QuestionRow,
  questionsOfTask,
  takesRecordedSince,
  titlesOfTasks,
} from "./practice";
export { drillsOfBand, routinesOfBand } from "./preparation";
export { soundsBefore } from "./retention";
export {
  bandState,
  membersOfBand,
  type NamedSeat,
  type OverviewRow,
  playersOfBand,
  seatsOfBand,
  seatsOfGroup,
  seatsOfPlayer,
  touchBand,
} from "./seats";
export { countTry, ownerOfSession, sweepSignIns } from "./sign-in";
export {
  assignmentsDue,
  barsOfAssessments,
  currentResults,
  type GrowthTakeRow,
  type GrowthTaskRow,
  hardestBars,
  openTasks,
  type QueueRow,
  type StandRow,
  sectionBars,
  type TakeMarks,
  type TakeOutcome,
  takeContext,
  takesOfBand,
  takesOfTask,
  takesOfWaitingTasks,
  takeWrongIn,
  taskCounts,
  tasksOfBand,
  tasksOfPlayer,
} from "./takes";
export { takesOfLastDay, uploadsUnderWay } from "./uploads";
