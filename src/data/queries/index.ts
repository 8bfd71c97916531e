export {
  dueJobs,
  forgottenTakes,
  type JobRow,
  lockOne,
  lostJobs,
  queueJob,
  takesHeardByOthers,
} from "./jobs";
export {
  barNumbersOf,
  isGivenTo,
  type LineHead,
  newestRevisionOf,
  type ShelfRow,
  scoreTexts,
  shelfRows,
  storedOutlines,
  timesGiven,
} from "./lines";
export { drillsOfBand, routinesOfBand } from "./preparation";
export { type NamedSeat, playersOfBand, seatKindsOfBand, seatsOfBand, seatsOfGroup } from "./seats";
export { countTry, ownerOfSession, sweepSignIns } from "./sign-in";
export {
  assignmentsDue,
  barsOfAssessments,
  currentResults,
  type GrowthTakeRow,
  hardestBars,
  openTasks,
  type QueueRow,
  type StandRow,
  sectionBars,
  type TakeOutcome,
  takeContext,
  takesOfBand,
  takesOfTask,
  takesOfWaitingTasks,
  taskCounts,
  tasksOfBand,
  tasksOfPlayer,
} from "./takes";
export { takesOfLastDay, uploadsUnderWay } from "./uploads";
