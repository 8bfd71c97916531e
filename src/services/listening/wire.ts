import type { Assessment, AssessOptions } from "../../core/listen";
import type { Asks } from "../../core/practice";
import type { CauseKind, LateRule, MarkedBy, Overrule, Rubric, Told } from "../../core/progress";
import type { Score } from "../../core/score";
import type { BringRow, TakeState, TaskState } from "../../data";
import type { OpenQuestion, PinView, TakeSummary } from "../practice/wire";

export interface QueueItem {
  takeId: string;
  taskId: string;
  playerName: string;
  instrumentName: string;
  lineTitle: string;
  lineNumber: number | null;
  /** Opened by the player's own choice; read at sight. */
  chosen: boolean;
  sight: boolean;
  /** Its player has a question open. */
  asked: boolean;
  dueLabel: string;
  /** Another director is hearing it just now. */
  claimedBy: string | null;
  remark: string;
  needsEar: boolean;
  /** Per bar of the line: notes wrong or untimely. */
  bars: { wrong: number; untimely: number }[];
}

export interface QueuePage {
  items: QueueItem[];
  /** How many there are in all, and how many of them the bench could not judge. */
  total: number;
  needEar: number;
}

/** A take on which a word was said. */
export interface HeardItem
  extends Pick<
    QueueItem,
    "takeId" | "taskId" | "playerName" | "instrumentName" | "lineTitle" | "lineNumber" | "remark"
  > {
  decision: "accepted" | "again";
  /** Its player can see it. */
  released: boolean;
  heardLabel: string;
}

/** What the queue can be narrowed to, with how many wait of each. */
export interface QueueChoices {
  groups: QueueChoice[];
  instruments: QueueChoice[];
  lines: QueueChoice[];
  /** Answers that wait to be released; null where players see them at once. */
  heldBack: number | null;
  /** Kinds in which the bench was too often wrong for this band. */
  distrusted: CauseKind[];
}

/** Takes in which nothing was found, and how many of them are to be heard before the others are accepted with them. */
export interface CleanTakes {
  takeIds: string[];
  samples: number;
  heard: number;
}
interface QueueChoice {
  id: string;
  name: string;
  tasks: number;
}

export interface TakeDetail {
  id: string;
  taskId: string;
  playerName: string;
  instrumentId: string;
  instrumentName: string;
  lineId: string;
  lineTitle: string;
  lineNumber: number | null;
  page: number | null;
  goalBpm: number;
  /** The slowest tempo that counts; any when null. */
  lowestBpm: number | null;
  /** It counts as a playing test. */
  test: boolean;
  /** How it is marked: as it was when it was marked, else as the task and the band say today. */
  markedBy: MarkedBy;
  takeNumber: number;
  takeCount: number;
  seconds: number;
  state: TakeState;
  problem: string | null;
  /** What the device left out of the recording, seconds. */
  leftOutSec: number;
  peaks: number[];
  svg: string;
  score: Score;
  /** As the engine heard it; the director's words against it stand beside. */
  assessment: Assessment | null;
  overrules: Overrule[];
  pins: PinView[];
  /** What its player asked about the line and was not told yet. */
  questions: OpenQuestion[];
  /** The bars that were given: the index of the first in the line, and their printed numbers. */
  given: { firstBar: number; bars: string[] };
  /** What the next take is asked for otherwise. */
  asks: Asks | null;
  /** The band's own words by the sentence they stand in place of. */
  ownWords: Record<string, string>;
  /** What counts as in tune at the stage of the task. */
  inTuneCents: number;
  /** It is accepted after it was heard, or one of its findings was met. */
  hearFirst: boolean;
  review: TakeSummary["review"];
  /** Every take of this task, oldest first, this one among them. */
  takes: { id: string; recordedAt: string; remark: string; decision: "accepted" | "again" | null }[];
  section: { instrument: string; bars: { wrong: number; takes: number }[] }[];
}

/** One section of a line: where and how its takes went wrong. */
export interface SectionRow {
  instrumentId: string;
  instrument: string;
  takes: number;
  bars: {
    /** Takes in which it went wrong, of those that reached it. */
    wrong: number;
    takes: number;
    /** The line's own snags named it for this instrument. */
    predicted: boolean;
    examples: { takeId: string; playerName: string }[];
  }[];
  /** In how many takes each kind of error was found, the commonest first. */
  causes: { kind: CauseKind; takes: number }[];
}

/** What many takes have in common. */
export interface PatternView {
  /** Lines with takes of this term, the most takes first. */
  lines: { id: string; title: string; number: number | null; takes: number }[];
  line: {
    id: string;
    title: string;
    goalBpm: number;
    /** Printed numbers of its bars. */
    bars: string[];
    sections: SectionRow[];
  } | null;
  /** The commonest causes of the term, with takes lately and before. */
  term: { kind: CauseKind; takes: number; lately: OfTakes; before: OfTakes }[];
  /** How often the bench told each kind, and how often it was not so. */
  record: Told[];
  /** Kinds in which the bench is below what the band asks of it. */
  distrusted: CauseKind[];
  trustPercent: number;
}
interface OfTakes {
  takes: number;
  of: number;
}

/** A task of the same player that a take may have been for. */
export interface OtherTask {
  taskId: string;
  lineTitle: string;
  lineNumber: number | null;
  dueLabel: string;
  state: TaskState;
}

/** A line that can be heard in class. */
export interface LiveChoice {
  assignmentId: string;
  groupName: string;
  lineTitle: string;
  lineNumber: number | null;
  dueLabel: string;
  test: boolean;
  players: number;
  /** How many were not accepted yet. */
  left: number;
}

/** Everything that hearing a line in class needs. */
export interface LiveTest {
  assignmentId: string;
  lineTitle: string;
  goalBpm: number;
  /** Only in the book: there are no notes to judge by. */
  catalogued: boolean;
  /** The director who hears it. */
  owner: string;
  rubric: Rubric;
  late: LateRule;
  players: {
    taskId: string;
    name: string;
    instrument: string;
    part: string;
    state: TaskState;
    lateDays: number;
  }[];
  /** Parts by the key that players name. */
  parts: Record<string, { score: Score; svg: string; inTuneCents: number; options: AssessOptions }>;
}

/** A task for which a recording may be brought. */
export interface BringTask extends Omit<BringRow, "dueDate"> {
  dueLabel: string;
}
