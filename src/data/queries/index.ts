export { dueJobs, forgottenTakes, type JobRow, lockOne, lostJobs, queueJob, takesHeardByOthers } from "./jobs";
export {
  isGivenTo,
  newestRevisionOf,
  type ShelfRow,
  scoreTexts,
  shelfRows,
  storedOutlines,
  timesGiven,
} from "./lines";
export { drillsOfBand, routinesOfBand } from "./preparation";
export { type NamedSeat, playersOfBand, seatKindsOfBand, seatsOfBand, seatsOfGroup } from "./seats";
export { countTry, sweepSignIns } from "./sign-in";
export {
  barsOfAssessments,
  barsOfAssignments,
  currentAssessments,
  type GrowthTakeRow,
  linesOfAssignments,
  type QueueRow,
  sectionBars,
  type TakeOutcome,
  takeCounts,
  takesOfBand,
  takesOfTask,
  takesOfWaitingTasks,
  tasksOfAssignments,
  tasksOfBand,
} from "./takes";
export { readJson } from "./select";
export { takesOfLastDay, uploadsUnderWay } from "./uploads";
