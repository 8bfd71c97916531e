export {
  isAskedFor,
  MOST_RUNGS,
  PLAIN_TERMS,
  PRACTICE_STEPS,
  type PracticeStep,
  rungsOf,
  type Terms,
  type ToRecord,
  tooSlow,
  weightedMark,
  within,
} from "./terms";
