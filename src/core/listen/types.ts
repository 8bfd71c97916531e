export type TakeStatus = "assessed" | "no-match" | "too-quiet" | "no-music";
export type Mode = "melody" | "rhythm" | "longtone";
/** "not-short": held on, though its sign makes it short. "corrected": another pitch was tried first and put right. "not-recorded": the device left this note out, so nothing is said of it. "heard-wrong": a director's ear, never the engine's. */
export type NoteFlag =
  | "cracked-attack"
  | "re-tongued-slur"
  | "breath-in-slur"
  | "squeak"
  | "not-short"
  | "corrected"
  | "not-recorded"
  | "heard-wrong";

/** What the engine says of one sounding note; times in seconds from the start of the audio. */
export interface NoteVerdict {
  index: number;
  eventId: string;
  measure: string;
  beat: number;
  verdict: "ok" | "wrong-pitch" | "missed";
  kind: null | "key-signature" | "semitone" | "partial" | "octave" | "other";
  onset: number | null;
  offset: number | null;
  playedMidi: number | null;
  cents: number | null;
  timing: null | "ok" | "early" | "late";
  timingMs: number | null;
  length: null | "ok" | "short" | "long";
  /** Played length as a share of the written length at the player's own beat. */
  lengthRatio: number | null;
  flags: NoteFlag[];
  /** Level against the middle one of the take, dB; null for a missed note. */
  levelDb: number | null;
  /** How likely the verdict is right, 0 to 1. */
  confidence: number;
}

/** How one note name is in tune over the take. */
export interface NameTuning {
  /** Written name, such as "B♭3". */
  name: string;
  /** Median distance from equal temperament on the chosen A. */
  cents: number;
  notes: number;
}

/** A written change of dynamics and what was made of it. */
export interface DynamicChange {
  measure: string;
  from: string;
  to: string;
  /** From the notes before to those after it, + is louder. */
  changeDb: number;
  audible: boolean;
}

/** What was made of the signs over the notes, each kind of them together: of a single note nothing can be said. Null for too few. */
export interface MarksHeard {
  /** How much louder accented notes begin than those beside them, middle of all, dB; relative, never sound pressure. Audible is null where it lies between. */
  accents: { notes: number; louderDb: number; audible: boolean | null } | null;
  /** Share of their written length that staccato notes were held, and how much slower they went than the others, percent. */
  staccato: { notes: number; lengthRatio: number; slowerPercent: number | null } | null;
}

export interface TakeBreak {
  kind: "hesitation" | "restart" | "stopped-early";
  atSec: number;
  seconds: number;
  measure: string;
  /** Of a restart that went on in time, from the end of a bar to the beginning of one, as a repeat does: the last bar before it. */
  repeatedFrom?: string;
}

export interface LongTone {
  seconds: number;
  pitchSdCents: number;
  levelSdDb: number;
  attack: "clean" | "cracked";
  pitchDriftCents: number;
  /** Spread of the spectral centroid as a share of its middle: how steady the tone is in colour. */
  brightnessSpread: number;
  /** From the end of the body to 20 dB below it, seconds; a breath that runs out takes long. */
  releaseSec: number;
  /** From the lowest to the highest pitch of the longest unbroken sound, semitones: a siren's span. */
  spanSemitones: number;
  /** Where several notes are asked for: steps that go the right way (up, down, same), of how many. */
  contour: { right: number; asked: number } | null;
}

/** One tone of several. */
export interface HeldTone extends Pick<LongTone, "seconds" | "pitchSdCents" | "levelSdDb" | "attack"> {
  onset: number;
}

/** What is said of a take of a line whose notes nobody entered. */
export interface ByEar {
  soundingSec: number;
  /** Attacks heard. */
  attacks: number;
  /** The even beat nearest the attacks; null with too few of them. */
  tempoBpm: number | null;
  /** Median distance of the attacks from that beat's halves, ms. */
  unevenMs: number | null;
  /** From the softer to the louder notes, dB; relative, never sound pressure. */
  levelRangeDb: number | null;
}

export interface Assessment {
  engineVersion: string;
  take: {
    status: TakeStatus;
    tempoBpm: number | null;
    driftPercent: number | null;
    tuningCents: number | null;
    flags: ("octave" | "reference-bleed" | "uneven")[];
  };
  notes: NoteVerdict[];
  extras: { onset: number; midi: number | null }[];
  breaks: TakeBreak[];
  /** The longest tone of a long-tone take. */
  longTone: LongTone | null;
  /** Every held tone of a long-tone take, in order. */
  tones?: HeldTone[];
  /** Only of a melody that was assessed. */
  tuning?: NameTuning[];
  dynamics?: DynamicChange[];
  marks?: MarksHeard;
  /** Only for a catalogued line; then there are no notes. */
  byEar?: ByEar;
  /** Only where the line was played more than once in the recording: what is said is of the one that was judged. */
  attempts?: Attempt[];
}

/** One of several times a line was played in a recording, seconds from its start. */
export interface Attempt {
  fromSec: number;
  toSec: number;
  /** How much of the line was found in it, 0 to 1. */
  share: number;
  judged: boolean;
}

/** A stretch of a recording that the device left out, seconds from the start of the audio. */
export interface Gap {
  fromSec: number;
  toSec: number;
}

export interface AssessOptions {
  mode?: Mode;
  /** Beats a minute in the score's beat unit; the score's mark when left out. */
  bpm?: number;
  withoutRepeats?: boolean;
  /** Semitone tolerance in cents around each expected pitch, after the take's own tuning; default 50. */
  pitchToleranceCents?: number;
  /** What a note counts as that was wrong at first and put right: right unless told otherwise. */
  corrected?: "right" | "wrong";
  /** Default 70. */
  timingToleranceMs?: number;
  /** What A4 is tuned to, Hz; 440 when left out. Cents are told from it. */
  a4Hz?: number;
  /** What the device left out of the recording: notes in it are not held against the player. */
  gaps?: readonly Gap[];
  /** Id of the instrument, where known: wrong partials and the trombone's legato tongue are judged by it. */
  instrumentId?: string;
}
