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
  BALANCE_CAUTION,
  type Clock,
  clockOf,
  clockText,
  FAMILY_CAUTIONS,
  fitToBudget,
  ROUTINE_LIMITS,
  type Routine,
  restBalance,
  routinePlan,
} from "./routine";
export type { PlayerKind } from "./segment";
export { slurPairs } from "./slurs";
export { TEMPLATES } from "./templates";
