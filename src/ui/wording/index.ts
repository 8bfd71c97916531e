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
