export {
  ADVICE,
  type AdviceWords,
  advicePlace,
  CAUSE_NAMES,
  fillWords,
  remedyPlace,
} from "./advice";
export { causeText, goodText } from "./causes";
export { dayName } from "./days";
export { ABOUT_INSTRUMENT, HELP_NOW, NORMAL_NOW } from "./family";
export { FAULT_NAMES, sectionFaultName } from "./faults";
export { checkedBy } from "./fingerings";
export { reasonText, shortDay } from "./knowledge";
export {
  aloneText,
  barsProblem,
  byOneselfText,
  clockText,
  doingText,
  FIRST_NOTE_NAMES,
  fromBarToBar,
  minutesAfter,
  minutesLeft,
  noteText,
  VIEW_NAMES,
  WAY_ASKS,
  WAY_NAMES,
} from "./lesson";
export { familyWords, whySentence } from "./marks";
export { nameList } from "./names";
export { differsText } from "./partner";
export {
  askText,
  homeTaskForFamily,
  homeTaskText,
  KIND_NAMES,
  leftOutText,
  lengthText,
  metByText,
  PLAYER_STEP_TEXT,
  paceText,
  planReason,
  proposalTitle,
  readyText,
  STEP_TEXT,
  unfilledText,
} from "./plan";
export { COUNTING_NAMES, HELD_NAMES, STEP_NAMES, termsInShort } from "./practice";
export { REMEDIES, type Remedy, remediesFor } from "./remedies";
export {
  cleanSoFar,
  HELP_NAMES,
  improvementText,
  legReason,
  legTitle,
  lookChoice,
  lookText,
  meaningOf,
  movesText,
  outcomeSentence,
  STEP_SHORT,
} from "./room";
export { ROSTER_COLUMNS, ROSTER_PROBLEMS, rowProblem, rowWill } from "./roster";
export { SOUND_TASKS, setUpList } from "./set-up";
export { snagReason } from "./snags";
export { STAGE_NAMES, stageReason } from "./stages";
export { sungAdvice, sungSentence } from "./sung";
export {
  clock,
  type Finding,
  findings,
  heardName,
  helpfulAdvice,
  leftOutSentence,
  noteChoices,
  placeName,
  type Spot,
  strokesOnly,
  takeSentence,
  writtenName,
} from "./takes";
export {
  BALANCE_CAUTION,
  cutShortReason,
  FAMILY_CAUTIONS,
  fitChangeSentence,
  HEADPHONES_CAUTION,
} from "./warm-ups";
