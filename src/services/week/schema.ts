export interface WeekItem {
  assignmentId: string;
  lineId: string;
  lineNumber: number | null;
  lineTitle: string;
  groupName: string;
  goalBpm: number;
  timesPerWeek: number;
  dueDate: string;
  dueLabel: string;
  overdue: boolean;
  note: string;
  /** Indexes of the bars asked for; null for the whole line. */
  firstBar: number | null;
  lastBar: number | null;
  /** Printed numbers of its bars. */
  bars: string[];
  tasks: number;
  waiting: number;
  accepted: number;
  again: number;
  missing: { name: string; instrument: string }[];
  /** The bar that went wrong in most takes, when at least two missed it. */
  hardestBar: { label: string; wrong: number; takes: number } | null;
}

export interface WeekView {
  bandName: string;
  today: string;
  todayLabel: string;
  waitingTakes: number;
  needEar: number;
  missingPlayers: number;
  hardest: { line: string; bar: NonNullable<WeekItem["hardestBar"]> } | null;
  items: WeekItem[];
}
