export interface GrowthCell {
  state: "open" | "sent" | "again" | "accepted";
  /** Share of clean notes in the best take, 0 to 100; null without an assessed take. */
  cleanPercent: number | null;
  /** Mean of the director's marks on the latest reviewed take, 1 to 4. */
  mark: number | null;
  takes: number;
  /** Best take against the first, percentage points. */
  gain: number | null;
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
  }[];
}
