/** Why something is proposed, in kinds and values; words are made elsewhere. */
export type Reason =
  | { kind: "opens" }
  | { kind: "next"; newThings: string[]; clean: number | null }
  | { kind: "take-home"; lineTitle: string }
  | {
      kind: "hot-bar";
      bar: string;
      wrong: number;
      takes: number;
      instrumentId: string | null;
    }
  | { kind: "returns"; after: number; clean: number | null }
  | { kind: "pleasure"; after: number }
  | { kind: "tempo"; reached: number; goal: number }
  | { kind: "goal"; name: string; inDays: number }
  | { kind: "teach-first"; instrumentId: string; players: number; newThings: string[]; lineTitle: string }
  | { kind: "waits"; instrumentId: string; players: number; newThings: string[]; lineTitle: string }
  | { kind: "counting"; after: number | null }
  | { kind: "player-stays"; clean: number }
  | { kind: "player-ahead"; clean: number; lines: number }
  | { kind: "player-next-book"; clean: number }
  | { kind: "cards" }
  | { kind: "make-up"; lesson: number | null; missedOn: string };
