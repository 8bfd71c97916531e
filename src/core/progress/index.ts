export { type Cause, type CauseKind, type CausePlace, causesOf, type GoodThing, goodThingOf } from "./causes";
export {
  type CleanCount,
  compareTakes,
  countBars,
  countClean,
  isClean,
  isUneven,
  recordedNotes,
  type TakeRank,
} from "./clean";
export { everyNoteOf, everyNoteTogether } from "./every-note";
export { type Evidence, evidenceOf, OVER_THE_BREAK, type Thing, type ThingKind } from "./evidence";
export { withoutExempt } from "./exempt";
export {
  type Knowledge,
  type KnowledgeInput,
  type KnownThing,
  knowledgeOf,
  type Reason,
  type StageSuggestion,
  suggestStage,
  TAKES_THAT_SHOW,
  thingsOf,
} from "./knowledge";
export { aboutOf, type Overrule, overruled } from "./overrule";
export { type Criterion, driftsNoticeably, proposeMarks } from "./propose";
export {
  countingResult,
  HEARD,
  heardIn,
  type LateRule,
  type MarkedBy,
  type MarkResult,
  type Marks,
  MOST_CRITERIA,
  type Rubric,
  type RubricCriterion,
  resultOf,
  rubricFor,
  suggestedMarks,
  USUAL_RUBRIC,
} from "./rubric";
export { distrustedKinds, type Share, shareOf, type Told } from "./trust";
