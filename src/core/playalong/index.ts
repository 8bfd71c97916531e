export { bandVoices } from "./band";
export { asTheSectionPlays, type Fault, faultsFor, type SectionFault, withFault } from "./difference";
export { inOrder, type Moment, momentAt, type PlayAlong, type PlayAlongOptions, playAlong } from "./events";
export { type MetronomeSettings, metronomePlan, tappedTempo } from "./metronome";
export {
  type BandVoice,
  type Mix,
  type MixerSettings,
  type MixerState,
  makeMixer,
  renderPlan,
  type Spoken,
} from "./mixer";
export { type Naming, noteName } from "./naming";
export {
  afterWords,
  backwards,
  callAndResponse,
  changeDrill,
  heardThenYours,
  inHalves,
  onOneNote,
  passage,
  tempoLadder,
} from "./practice";
export { type Bank, plainSounds, type Sound, type SoundTable, soundsFor, voicingOf } from "./sounds";
export { comfortableNote, type Way, wayPlan } from "./ways";
