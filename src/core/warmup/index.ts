export {
  type Block,
  blockTitle,
  FAMILY_NAMES,
  type Families,
  type Family,
  LIMITS,
  MOST_STEPS,
  USUAL,
  usualBlock,
  WarmUpError,
} from "./block";
export { buildBlock, partId, temposOf } from "./build";
export { warmUpMeasures } from "./measures";
export { type BlockDemand, blockDemands } from "./readiness";
export {
  type Clock,
  clockOf,
  clockText,
  type FitChange,
  fitToBudget,
  ROUTINE_LIMITS,
  type Routine,
  restBalance,
  routinePlan,
  SHORT_CHANGEOVER_SEC,
} from "./routine";
export type { CutShort, PlayerKind } from "./segment";
export { slurPairs } from "./slurs";
export { TEMPLATES } from "./templates";
