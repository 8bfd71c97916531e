export { assess, assessTaps, ENGINE_VERSION, LONGEST_TAKE_SEC, type Trace } from "./assess";
export { extractFeatures, type Features } from "./features";
export { modeFor } from "./mode";
export { makePitchFinder } from "./pitch";
export { pitchedSegments, type Segment } from "./segments";
export { makeSpectrum } from "./strikes";
export * from "./types";
