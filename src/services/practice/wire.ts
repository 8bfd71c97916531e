import type { Assessment } from "../../core/listen";
import type { Clef, Stage } from "../../core/music";
import type { StripKind } from "../../core/plan";
import type { SectionFault } from "../../core/playalong";
import type {
  CardState,
  CountingDay,
  DoneRule,
  Heap,
  LineFact,
  PracticeStep,
  Terms,
  ToRecord,
} from "../../core/practice";
import type { Cause, MarkedBy, Marks } from "../../core/progress";
import type { CountingSystem } from "../../core/rhythm";
import type { Score } from "../../core/score";
import type { Preferences, TakeState } from "../../data";
import type { LineRecordingView, NewNote, PartView, PencilView } from "../shelf/schema";

/** Largest chunk taken in one request, bytes. */
export const CHUNK_BYTES = 1_000_000;

export type TaskState = "open" | "sent" | "again" | "accepted";

export interface StandTask {
  id: string;
  lineTitle: string;
  lineNumber: number | null;
  page: number | null;
  instrumentName: string;
  goalBpm: number;
  /** The slowest tempo at which a take counts; any when null. */
  lowestBpm: number | null;
  timesPerWeek: number;
  /** Minutes each time; null where nothing was said. */
  minutes: number | null;
  /** It counts as a playing test. */
  test: boolean;
  /** Beside what is required. */
  extra: boolean;
  /** Opened by the player's own choice. */
  chosen: boolean;
  /** Read at sight: looked at so long, then recorded once. */
  sight: Terms["sight"];
  record: ToRecord["kind"];
  /** The bars to record where it is not all that is shown, as printed. */
  recordBars: string | null;
  /** The player said it is done, where nothing is recorded. */
  toldDone: boolean;
  /** It can be worked at; not only announced. */
  opened: boolean;
  /** Where it lies on the stand. */
  heap: Heap;
  /** The day it opens; null once it is open. */
  opensLabel: string | null;
  dueDate: string;
  dueLabel: string;
  overdue: boolean;
  note: string;
  /** What was changed after it was given. */
  changedNote: string;
  /** The bars that are asked for, as printed; null for the whole line. */
  bars: string | null;
  state: TaskState;
  takes: number;
  /** Local days of this week on which it was practised. */
  practisedOn: string[];
}

export interface StandView {
  playerName: string;
  bandName: string;
  today: string;
  tasks: StandTask[];
  preferences: Preferences;
  /** Minutes of this week by day, Monday first, as far as it has come; and what is asked of a day. */
  log: {
    days: { day: string; minutes: number }[];
    askMinutes: number;
    by: "times" | "minutes";
    sheet: boolean;
  };
  /** What the player means to do today. */
  goal: string;
  /** Lines that go well: something enjoyed to begin and to end with. */
  tunes: { taskId: string; title: string; number: number | null }[];
  /** Cards that wait today. */
  cardsDue: number;
  /** What comes before playing: putting the instrument together in the first weeks, tuning where the band wants it. */
  begin: "set-up" | "tuner" | null;
  /** What stands on single days beside tasks: sheets, listening, cards, words. */
  beside: StandStrip[];
  /** Lessons of the class to be done alone, in the own part. */
  lessons: { id: string; label: string }[];
  /** What a player who is through may open by own choice; null where there is nothing, or the band does not wish it. */
  next: { lineId: string; title: string; number: number | null; page: number | null } | null;
}

export interface StandStrip {
  stripId: string;
  /** "today", or the day. */
  day: string;
  today: boolean;
  kind: StripKind;
  title: string;
  minutes: number;
  note: string;
  file: { handoutId: string; form: "sheet" | "sound" } | null;
  /** Where to listen, as a director approved it. */
  address: string | null;
  done: boolean;
}

export interface TakeSummary {
  id: string;
  recordedAt: string;
  seconds: number;
  state: TakeState;
  problem: string | null;
  /** What the device left out of the recording, seconds; 0 for most. */
  leftOutSec: number;
  assessment: Assessment | null;
  review: {
    decision: "accepted" | "again";
    comment: string;
    /** Words for those at home. */
    forFamily: string;
    marks: Marks;
    /** How it was marked; null for marks of before a band had its own rubrics. */
    markedBy: MarkedBy | null;
    reviewer: string;
    /** The player may see it. */
    released: boolean;
  } | null;
}

/** A director's words at a note of a take. */
export interface PinView {
  id: string;
  eventId: string;
  /** Printed number of its bar. */
  measure: string;
  text: string;
  /** There is a recording of it in the director's voice. */
  voice: boolean;
}

/** A take as its player sees it. */
export interface OwnTake extends TakeSummary {
  /** A director put aside what the bench heard. */
  setAside: boolean;
  /** The director's marks at its notes. */
  pins: PinView[];
}

export interface TaskDetail extends StandTask {
  instrumentId: string;
  lineId: string;
  /** The notes are in the book only: there is nothing to draw, and only rhythm, level and tuning are answered. */
  catalogued: boolean;
  /** A counting page: bars by name, and the system they are counted in. Null for everything else. */
  counting: { forms: string[]; system: CountingSystem } | null;
  part: PartView;
  pencil: PencilView[];
  recordings: LineRecordingView[];
  /** The part itself: played, clicked and assessed on the device. */
  score: Score;
  /** What of it is recorded: all of it, or some bars. */
  recordScore: Score;
  /** Tempi to climb, slowest first; the goal alone without a ladder. */
  rungs: number[];
  /** What the director leads through, in order; none where nothing was said. */
  steps: PracticeStep[];
  /** What is marked and how much each counts; everything alike when null. */
  /** The player's own instruments on which it can be done: more than one for a percussionist. */
  instruments: { id: string; name: string }[];
  tolerances: {
    pitchToleranceCents: number;
    timingToleranceMs: number;
    a4Hz: number;
    corrected: "right" | "wrong";
  };
  /** What counts as in tune at the stage of the task. */
  inTuneCents: number;
  /** Written notes that are not judged for this player. */
  exempt: number[];
  /** The band's words for what is marked. */
  /** In the weeks of making a sound: the notes of the part are learned as cards, nothing is recorded. */
  cardsOnly: boolean;
  /** Every note of the part with its fingering, where it is learned as cards. */
  cards: NewNote[];
  practice: TaskPractice;
  questions: QuestionView[];
  preferences: Preferences;
  /** Who hears what is sent and how long it is kept. */
  heard: { by: string[]; weeks: number | null };
  history: OwnTake[];
}

/** What leads a player through a line beside the line itself. */
export interface TaskPractice {
  /** Everything that happened with it, oldest first. */
  facts: LineFact[];
  today: string;
  stage: Stage;
  rule: DoneRule;
  poorTries: number;
  /** Minutes of playing after which lips rest; null where the band says nothing. */
  playingMinutes: number | null;
  /** Seconds practised today, with everything. */
  secondsToday: number;
  order: "halves" | "backwards";
  tongueFirst: boolean;
  readFirst: boolean;
  naming: "letters" | "solfege" | "numbers";
  /** Written notes the player knows, with their fingerings. */
  known: NewNote[];
  /** What the rest of the band plays under it, in concert pitch; nothing where the line has one part only. */
  companions: Score[];
}

export interface QuestionView {
  id: string;
  kind: "question" | "please-play";
  measure: string | null;
  text: string;
  askedLabel: string;
  answer: string | null;
  answeredBy: string | null;
  /** It was answered by voice, or played. */
  sound: boolean;
}

/** What the player's section often does with a line, and how it is shown by ear. */
export interface SectionSays {
  cause: Cause;
  fault: SectionFault;
  /** Takes in which it was heard, of how many. */
  takes: number;
  of: number;
}

/** A question as a director sees it. */
export interface OpenQuestion {
  id: string;
  kind: "question" | "please-play";
  playerId: string;
  playerName: string;
  instrumentId: string;
  lineId: string;
  lineTitle: string;
  lineNumber: number | null;
  measure: string | null;
  text: string;
  askedLabel: string;
}

export interface KeptFacts {
  /** What is kept now, with its instant and day as the bench has them. */
  kept: { id: string; at: string; day: string }[];
  /** What will never be kept, and why. */
  refused: { id: string; message: string }[];
}

/** One card: what it asks and what it answers, by what it is made of. */
export type CardFace =
  | { id: string; kind: "name" | "fingering"; note: NewNote }
  | { id: string; kind: "rhythm"; name: string }
  | { id: string; kind: "sign"; name: string };

/** An instrument of the player, for the tools. */
export interface OwnInstrument {
  id: string;
  name: string;
  stage: Stage;
  clef: Clef;
  /** Semitones from written to sounding. */
  soundsBySemitones: number;
  blown: boolean;
  brass: boolean;
  pitched: boolean;
  /** Every note of two years with its fingering, lowest first. */
  chart: (NewNote & { midi: number; known: boolean })[];
  /** Written name of the note it tunes on; null where nothing is tuned. */
  tuningNote: string | null;
}

/** What the tools, the cards and the log need. */
export interface PracticeView {
  playerName: string;
  today: string;
  instruments: OwnInstrument[];
  cards: { deck: CardFace[]; states: Record<string, CardState>; lineHint: string; spaceHint: string };
  a4Hz: number;
  inTuneCents: number;
  tuneWhen: "before" | "after-long-tones" | "never";
  firstWeeks: boolean;
  /** By day, the last eight weeks. */
  days: { day: string; seconds: number; ownMinutes: number }[];
  askMinutes: number;
  logBy: "times" | "minutes";
  logSheet: boolean;
  /** Own entries, the newest first. */
  entries: { id: string; day: string; minutes: number; text: string }[];
  /** The longest tone of a day. */
  tones: {
    day: string;
    note: string;
    heldSec: number;
    pitchSdCents: number;
    levelSdDb: number;
    brightnessSpread: number;
  }[];
  /** Counting activities: what was right, of how much, by day. */
  counting: { activity: string; days: CountingDay[] }[];
  /** The highest tempo at which a line went clean, by day. */
  tempi: { taskId: string; title: string; goalBpm: number; days: { day: string; bpm: number }[] }[];
}
