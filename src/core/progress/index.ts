export {
  type CleanCount,
  compareTakes,
  countBars,
  countClean,
  isClean,
  isUneven,
  type TakeRank,
} from "./clean";
export { CRITERIA, type Criterion, driftsNoticeably, proposeMarks } from "./propose";
