export type {
  Fingering,
  FingeringCheck,
  HoleFingering,
  SlideFingering,
  ValveFingering,
} from "./fingering";
export {
  type FingeringOptions,
  fingeringFor,
  fingeringText,
  otherwiseText,
  partialCents,
  partialsBetween,
  readFingering,
  tendencyText,
  valveCents,
} from "./fingerings";
export {
  type BalanceVoice,
  type BrassTube,
  type Clef,
  comfortableRange,
  crossesBreak,
  type Family,
  fingeringOf,
  INSTRUMENTS,
  type Instrument,
  instrumentById,
  instrumentNamed,
  isBlown,
  midisOf,
  type NoteFinding,
  type Range,
  STAGES,
  type Stage,
  staffPosition,
  stageRange,
  widestRange,
  writtenFor,
  writtenInterval,
} from "./instruments";
export { fifthsOfInterval, keyName, keyTonic, signatureAlter } from "./key";
export { type KeyRow, keyRow } from "./key-chart";
export { chooseOctave, homeOf, learnedAt, learnedBefore, type OctaveQuestion } from "./octave";
export {
  hzToMidi,
  type Interval,
  LETTERS,
  type Letter,
  midiToHz,
  midiToPitch,
  octavesUp,
  type Pitch,
  parsePitch,
  pitchId,
  pitchName,
  pitchToMidi,
  spellMidi,
  staffStep,
  transposePitch,
} from "./pitch";
export { drumUnder, type TunedDrums, tuneDrums } from "./timpani";
