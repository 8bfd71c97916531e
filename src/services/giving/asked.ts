import { PLAIN_TERMS, type Terms, withAsks } from "../../core/practice";
import { type AskedDynamic, type HowAsked, type Score, scoreAsked } from "../../core/score";
import { type AskedOfTake, type Assignment, asksOfTask, dynamicsOfTask } from "../../data";

/** How something was given; what was not said is plain. */
export function termsOf({ terms }: { terms?: Terms | null | undefined }): Terms {
  return { ...PLAIN_TERMS, ...terms };
}

type Given = Pick<Assignment, "firstBar" | "lastBar" | "goalBpm" | "terms">;
/** With the dynamics that were changed in class: pencil on the stand, and judged. */
type GivenNow = Given & { dynamics?: readonly AskedDynamic[] };

/** How a task is given to its player just now: as its assignment says, or as the next take was asked for. */
export async function givenNow(
  taskId: string,
  { firstBar, lastBar, goalBpm, terms }: Given,
): Promise<GivenNow> {
  const [asks, dynamics] = await Promise.all([asksOfTask(taskId), dynamicsOfTask(taskId)]);
  return { ...withAsks({ firstBar, lastBar, goalBpm, terms }, asks), dynamics };
}

/** What is on the stand of a task: its bars, with the styles and repeats that were asked for. */
export function shownOf(assignment: Given): HowAsked {
  const { withoutRepeats, styles } = termsOf(assignment);
  return { bars: rangeOf(assignment), withoutRepeats, styles };
}

/** What is to be recorded of it: all that is on the stand, or some bars of it, with the dynamics that were asked for. */
export function recordedOf(assignment: GivenNow): HowAsked {
  const { record } = termsOf(assignment);
  const shown = { ...shownOf(assignment), dynamics: assignment.dynamics ?? [] };
  return record.kind === "bars" ? { ...shown, bars: [record.firstBar, record.lastBar] } : shown;
}

/** What a take sent today keeps, whatever is asked for later. */
export function keptWithTake(assignment: GivenNow): AskedBars & { asked: AskedOfTake } {
  const { withoutRepeats, styles, lowestBpm } = termsOf(assignment);
  const { bars, dynamics = [] } = recordedOf(assignment);
  return {
    firstBar: bars?.[0] ?? null,
    lastBar: bars?.[1] ?? null,
    asked: {
      withoutRepeats,
      styles,
      lowestBpm,
      goalBpm: assignment.goalBpm,
      ...(dynamics.length > 0 ? { dynamics } : {}),
    },
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
    dynamics: take.asked?.dynamics ?? [],
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
