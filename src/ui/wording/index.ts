export { FAULT_NAMES } from "./faults";
export { checkedBy } from "./fingerings";
export { nameList } from "./names";
export { snagReason } from "./snags";
export { STAGE_NAMES } from "./stages";
export {
  clock,
  heardName,
  helpfulAdvice,
  noteChoices,
  placeName,
  type Spot,
  spots,
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
