export { assess, ENGINE_VERSION, LONGEST_TAKE_SEC } from "./assess";
export { extractFeatures, type Features } from "./features";
export { makePitchFinder } from "./pitch";
export { pitchedSegments, type Segment } from "./segments";
export * from "./types";
