export { readAbc, splitTunes } from "./abc-read";
export { acceptScore } from "./accept";
export { type AskedDynamic, type HowAsked, type StyleRange, scoreAsked } from "./asked";
export { type Frame, layInBars, type Token } from "./bars";
export { BREATH_SEC, breathPlaces } from "./breath";
export { type BarRelation, compareBars, type Form, formOf } from "./compare";
export { cutBars } from "./cut";
export { concertPart, type DerivedPart, type DeriveOptions, derivePart } from "./derive";
export { type Difficulty, difficultyOf } from "./difficulty";
export {
  beginEntry,
  type Entry,
  entryOf,
  lackOf,
  type NewLine,
  pressKey,
  scoreOfEntry,
  setDynamic,
} from "./entry";
export { type BarSigns, barSignsAt, LONGEST_WORD, setBarSigns, setLyric, setTempoWords } from "./entry-signs";
export {
  addFractions,
  compareFractions,
  type Fraction,
  fraction,
  fractionToNumber,
  multiplyFractions,
  subtractFractions,
  sumFractions,
} from "./fraction";
export { demandsAtGlance, type Glance, type GlanceDemands, glanceAt } from "./glance";
export { FASTEST_BPM, SLOWEST_BPM } from "./limits";
export { measureOfEvents } from "./measure-of";
export { readMidi } from "./midi-read";
export { writeMidi } from "./midi-write";
export {
  type Articulation,
  barQuarters,
  beatOfMetre,
  DYNAMICS,
  type Dynamic,
  forDrumsOnly,
  type Measure,
  type NoteType,
  type Part,
  type PartOverride,
  type Purpose,
  type Score,
  type ScoreEvent,
  STYLES,
  type Style,
} from "./model";
export { type ReadChoices, readMusicXml, type ScoreReading } from "./musicxml-read";
export { writeMusicXml } from "./musicxml-write";
export { forNamedInstruments, type PartUse, withUses } from "./named-parts";
export { type LineOutlineFacts, OUTLINE_VERSION, outlineOf } from "./outline";
export { agreedPart, type PartVoice } from "./own-part";
export { PENCIL_KINDS, type PencilKind } from "./pencil";
export { playOutOrder } from "./playout";
export { readScore } from "./read";
export { durationOfShape, QUARTERS_OF_TYPE, shapeOfDuration } from "./shape";
export { type Snag, type SnagCause, snagsInTime, snagsOf } from "./snags";
export { withTempo } from "./tempo";
export { metresOf, type SoundingNote, type Timeline, type TimelineMeasure, timeline } from "./timeline";
export {
  type Known,
  knownAtStage,
  newIn,
  readRhythmName,
  rhythmName,
  stageBrings,
  type Vocabulary,
  vocabularyOf,
} from "./vocabulary";
export { ScoreReadError } from "./xml-tree";
