export {
  checkDictation,
  fillTheBar,
  findTheMistake,
  type SlotMark,
  seedOf,
  slotsOfTaps,
  startingBeat,
} from "./activities";
export { type AgainstClick, againstClick, tapDelay } from "./click";
export {
  type CourseDay,
  CourseError,
  type CourseSettings,
  planCourse,
  secondsOf,
  USUAL_COURSE,
} from "./course";
export { binomial, countForms, formsOf, oneOfEachRing } from "./enumerate";
export {
  beatsIn,
  type Form,
  formId,
  gridsOf,
  isCompound,
  METRES,
  type Metre,
  readForm,
  slotsIn,
} from "./form";
export { gradeOf } from "./grade";
export { roundTripOf } from "./latency";
export {
  easiestFirst,
  MOST_BARS,
  makePage,
  PageError,
  type PageSettings,
  pageSeconds,
  scoreOfForms,
  USUAL_PAGE,
} from "./page";
export { seededRandom } from "./random";
export { spellForm, spellPiece } from "./spell";
export { COUNTING_SYSTEMS, type CountingSystem, OWN_WORDS, type Syllable, syllablesOf } from "./systems";
