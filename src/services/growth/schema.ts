import type { Stage } from "../../core/music";
import type { CountingDay } from "../../core/practice";
import type { InstrumentKnowledge } from "../knowledge/schema";

export interface GrowthCell {
  state: "open" | "sent" | "again" | "accepted";
  /** Share of clean notes in the best take, 0 to 100; null without an assessed take. */
  cleanPercent: number | null;
  /** What the director's marks come to, 0 to 100; by the band's rule the best or the last take counts. */
  mark: number | null;
  takes: number;
  /** Best take against the first, percentage points. */
  gain: number | null;
}
/** One take of a player's history. */
export interface PlayerTake {
  takeId: string;
  recordedAt: string;
  /** "2 wrong", "clean", "not this line". */
  remark: string;
  decision: "accepted" | "again" | null;
  comment: string;
  mark: number | null;
  /** Its sound was erased by the rule of the band. */
  erased: boolean;
}

export interface PlayerTask {
  taskId: string;
  lineId: string;
  lineTitle: string;
  lineNumber: number | null;
  instrument: string;
  groupName: string;
  dueLabel: string;
  state: "open" | "sent" | "again" | "accepted";
  /** Its player left the group or the instrument. */
  closed: boolean;
  /** Opened by own choice. */
  chosen: boolean;
  /** Read at sight. */
  sight: boolean;
  takes: PlayerTake[];
}

/** A player on one page. */
export interface PlayerPage {
  id: string;
  name: string;
  calledName: string;
  stage: Stage;
  joinedOn: string;
  leftOn: string | null;
  hasCard: boolean;
  kit: string;
  today: string;
  groups: { name: string; from: string; to: string | null }[];
  instruments: InstrumentKnowledge[];
  teachings: { id: string; said: string; taughtOn: string; groupName: string | null }[];
  tasks: PlayerTask[];
  /** Days of the last four weeks with practice at home, as the player's own log has them. */
  practice: { day: string; seconds: number; ownMinutes: number }[];
  /** Results of counting activities, by activity and day. */
  counting: { activity: string; days: CountingDay[] }[];
  logBy: "times" | "minutes";
  /** What their groups had before they came. */
  earlier: { assignmentId: string; name: string; dueLabel: string; groupName: string }[];
}

export interface GrowthView {
  bandName: string;
  lines: { id: string; title: string; number: number | null }[];
  players: {
    id: string;
    name: string;
    instrument: string;
    cells: (GrowthCell | null)[];
    accepted: number;
    asked: number;
    /** Lines opened by own choice of which a take was sent. */
    chosen: number;
  }[];
  /** Playing tests with what came of them, the newest first. */
  tests: GrowthTest[];
  /** What was read at sight, the newest first. */
  sight: GrowthSight[];
}

export interface GrowthSight {
  assignmentId: string;
  name: string;
  results: {
    playerId: string;
    name: string;
    instrument: string;
    /** Share of clean notes, 0 to 100; null while nothing could be judged. */
    cleanPercent: number | null;
    takeId: string | null;
  }[];
}

export interface GrowthTest {
  assignmentId: string;
  name: string;
  results: {
    playerId: string;
    name: string;
    instrument: string;
    /** 0 to 100 by the rubric of the test; null until it is marked. */
    mark: number | null;
    state: GrowthCell["state"];
    /** It was taken in a make-up. */
    madeUp: boolean;
    /** The take that counts; null while there is none. */
    takeId: string | null;
  }[];
}
