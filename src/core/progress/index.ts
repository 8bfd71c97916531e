export { type CleanCount, compareTakes, countBars, countClean, isClean, isUneven, type TakeRank } from "./clean";
