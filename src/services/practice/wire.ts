import type { Assessment } from "../../core/listen";
import type { StripKind } from "../../core/plan";
import type { PracticeStep, Terms, ToRecord } from "../../core/practice";
import type { Criterion } from "../../core/progress";
import type { CountingSystem } from "../../core/rhythm";
import type { Score } from "../../core/score";
import type { TakeState } from "../../data";
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
  record: ToRecord["kind"];
  /** The bars to record where it is not all that is shown, as printed. */
  recordBars: string | null;
  /** The player said it is done, where nothing is recorded. */
  toldDone: boolean;
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
}

export interface StandView {
  playerName: string;
  bandName: string;
  tasks: StandTask[];
  /** What stands on single days beside tasks: sheets, listening, cards, words. */
  beside: StandStrip[];
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
  assessment: Assessment | null;
  review: {
    decision: "accepted" | "again";
    comment: string;
    marks: Record<string, number>;
    reviewer: string;
  } | null;
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
  marked: Terms["criteria"];
  /** The player's own instruments on which it can be done: more than one for a percussionist. */
  instruments: { id: string; name: string }[];
  tolerances: { pitchToleranceCents: number; timingToleranceMs: number; a4Hz: number };
  /** What counts as in tune at the stage of the task. */
  inTuneCents: number;
  /** Written notes that are not judged for this player. */
  exempt: number[];
  /** The band's words for what is marked. */
  criteria: Record<Criterion, string>;
  /** In the weeks of making a sound: the notes of the part are learned as cards, nothing is recorded. */
  cardsOnly: boolean;
  /** Every note of the part with its fingering, where it is learned as cards. */
  cards: NewNote[];
  /** Who hears what is sent and how long it is kept. */
  heard: { by: string[]; weeks: number | null };
  history: TakeSummary[];
}
