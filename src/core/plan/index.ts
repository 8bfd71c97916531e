export {
  cycleDay,
  daysFrom,
  LONGEST_LOOK_DAYS,
  lessonNumber,
  type Meeting,
  type MeetingChange,
  type MeetingOnDay,
  type MeetingPattern,
  meetingsBetween,
  mondayOf,
  overlappingTerms,
  type SchoolCalendar,
  type ShortDay,
  type Term,
  termOn,
  type Weekday,
  weekdayOf,
  weekOfTerm,
  weeksOfTerm,
  whyNoSchool,
} from "./calendar";
export { fill, isAllowed, type Slot, type Wish, worthOf } from "./fill";
export {
  CalendarFileError,
  type Holiday,
  LARGEST_CALENDAR_FILE,
  type ReadHolidays,
  readHolidays,
} from "./holidays";
export { makeUps } from "./makeup";
export { copyWeek, moveStrip, shiftRest, type Target } from "./moves";
export { inTeachingOrder } from "./order";
export { type Pace, paceOf, type WeekPoint } from "./pace";
export { barsByState, nextPassage, PASSAGE_STATES, type Passage, type PassageState } from "./piece";
export { type PlanStep, type PlayerStep, stepOfPlayer } from "./players";
export { type Draft, draftWeek, stepOf, type Unfilled } from "./propose";
export type { Reason } from "./reason";
export { type Met, nextReturn, overdue, RETURN_DAYS, SOLID_SHARE } from "./spacing";
export {
  type Goal,
  type GroupState,
  type LineAsk,
  type LineResults,
  type LineState,
  MOST_NEW_THINGS,
  type PlayerState,
  type Preparation,
  type Proposal,
} from "./state";
export { applyStep, joinSteps, type Step, stepBetween } from "./steps";
export {
  type Block,
  type Cell,
  type ForWhom,
  keyOf,
  LEAST_MINUTES,
  type Load,
  loadOf,
  MOST_MINUTES,
  minutesToPlan,
  placeBetween,
  runSheet,
  STRIP_KINDS,
  type Strip,
  type StripKind,
  stripsOn,
} from "./strip";
export { draftTerm, type TermDraft, type TermGroup } from "./term";
