export {
  assess,
  assessTaps,
  ENGINE_VERSION,
  followTake,
  LONGEST_TAKE_SEC,
  type TakeFollower,
  type Trace,
} from "./assess";
export { type AttemptRule, assessAttempts, foundShare } from "./attempts";
export { extractFeatures } from "./features";
export { type Held, LIVE_FRAME, type LiveFrame, makeHoldFollower, makeLiveReader } from "./live";
export { modeFor } from "./mode";
export { makePitchFinder } from "./pitch";
export { pitchedSegments } from "./segments";
export { makeSpectrum } from "./spectrum";
export { loudnessSteps } from "./summary";
export { listenToSinging, type Sung, type SungNote } from "./sung";
export type { Assessment, AssessOptions, ByEar, Gap, LongTone, Mode, NoteVerdict } from "./types";
