import type { AssessOptions, Mode } from "../../core/listen";
import type { TaskDetail } from "../../services/practice/wire";

/** How this device listens to something of a task: the band's tolerances, the instrument in hand, the tempo that is asked. */
export function listenOptions(
  { instrumentId, tolerances }: TaskDetail,
  { bpm, mode }: { bpm: number; mode: Mode | undefined },
): AssessOptions {
  return { bpm, instrumentId, ...tolerances, ...(mode ? { mode } : {}) };
}
