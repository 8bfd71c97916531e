export { barAt, barTimes, besideAt, writtenBarTimes } from "./beside";
export { type CardFact, type CardRating, type CardState, cardStates, cardsDue, reviewed } from "./cards";
export { CHANGE_BPM, CHANGE_GAPS, changeTurn, type Drill, nextGap, troubledChange } from "./change";
export { type CountingDay, countingResults } from "./counting";
export { type DoneRule, missingFor } from "./done";
export { dayCounts, type Fact, MOST_FACTS_AT_ONCE, type ToolFact } from "./facts";
export { type Help, helpFor, slower, smaller } from "./help";
export { climb, type Outcome, ownLadder, type Rung } from "./ladder";
export { changedLetters, type LookQuestion, lookQuestions } from "./look";
export { echoPatterns, effortOf, type FingerMoves, fingerMoves, nearestKnown } from "./new-note";
export { type DifferingBar, type Differs, differingBars, layTogether, type Together } from "./partner";
export { type Leg, type Passage, type PathOptions, type Place, partsOf, pathOf } from "./path";
export { type Judged, judgeRound, judgeSinging, type Round, roundOf, tongued, wrongByBar } from "./round";
export { type CommonCause, commonCause, faultOf } from "./section";
export { IDLE_SEC, type Improvement, improvements, minutesOf } from "./session";
export { type Heap, heapOf, MOST_CHOSEN, nextOwnLine, type OnStand } from "./stand";
export { type LineFact, type Standing, standingOf } from "./standing";
export { LONG_TONE_GOAL_SEC, longToneScore, type Steadiness, steadinessOf } from "./steady";
export { type HowChecked, PRACTICE_STEPS, type PracticeStep, STEP_KINDS } from "./steps";
export { startingTempo } from "./tempo";
export {
  type Asks,
  isAskedFor,
  MOST_RUNGS,
  NEIGHBOUR_TEMPO,
  PLAIN_TERMS,
  rungsOf,
  type Terms,
  type ToRecord,
  tooSlow,
  withAsks,
  within,
} from "./terms";
