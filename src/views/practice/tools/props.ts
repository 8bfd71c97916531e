import type { Fact } from "../../../core/practice";
import type { OwnInstrument, PracticeView } from "../../../services/practice/wire";

/** What every tool is given. */
export interface ToolProps {
  view: PracticeView;
  instrument: OwnInstrument;
  playerId: string;
  /** What this device did that the bench may not know of yet. */
  own: readonly Fact[];
}
