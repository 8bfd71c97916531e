import { PLAIN_TERMS, type Terms, withAsks } from "../../core/practice";
import { type HowAsked, type Score, scoreAsked } from "../../core/score";
import { type AskedOfTake, type Assignment, asksOfTask } from "../../data";

/** How something was given; what was not said is plain. */
export function termsOf({ terms }: { terms?: Terms | null | undefined }): Terms {
  return { ...PLAIN_TERMS, ...terms };
}

type Given = Pick<Assignment, "firstBar" | "lastBar" | "goalBpm" | "terms">;

/** How a task is given to its player just now: as its assignment says, or as the next take was asked for. */
export async function givenNow(taskId: string, { firstBar, lastBar, goalBpm, terms }: Given): Promise<Given> {
  return withAsks({ firstBar, lastBar, goalBpm, terms }, await asksOfTask(taskId));
}

/** What is on the stand of a task: its bars, with the styles and repeats that were asked for. */
export function shownOf(assignment: Given): HowAsked {
  const { withoutRepeats, styles } = termsOf(assignment);
  return { bars: rangeOf(assignment), withoutRepeats, styles };
}

/** What is to be recorded of it: all that is on the stand, or some bars of it. */
export function recordedOf(assignment: Given): HowAsked {
  const { record } = termsOf(assignment);
  const shown = shownOf(assignment);
  return record.kind === "bars" ? { ...shown, bars: [record.firstBar, record.lastBar] } : shown;
}

/** What a take sent today keeps, whatever is asked for later. */
export function keptWithTake(assignment: Given): AskedBars & { asked: AskedOfTake } {
  const { withoutRepeats, styles, lowestBpm } = termsOf(assignment);
  const { bars } = recordedOf(assignment);
  return {
    firstBar: bars?.[0] ?? null,
    lastBar: bars?.[1] ?? null,
    asked: { withoutRepeats, styles, lowestBpm, goalBpm: assignment.goalBpm },
  };
}

interface AskedBars {
  firstBar: number | null;
  lastBar: number | null;
}

/** The part a take is heard against, as it was asked for when it was sent. */
export function scoreOfTake(
  part: Score,
  take: AskedBars & { asked?: AskedOfTake | null | undefined },
): Score {
  return scoreAsked(part, {
    bars: rangeOf(take),
    withoutRepeats: take.asked?.withoutRepeats ?? false,
    styles: take.asked?.styles ?? [],
  });
}

function rangeOf({
  firstBar,
  lastBar,
}: {
  firstBar?: number | null | undefined;
  lastBar?: number | null | undefined;
}) {
  return firstBar == null || lastBar == null ? null : ([firstBar, lastBar] as const);
}
