import { useCallback, useEffect, useState } from "react";
import type { Asks } from "../../core/practice";
import type { MarkedBy, Marks } from "../../core/progress";
import type { TakeDetail } from "../../services/listening/wire";

/** What a director has written about a take and not sent yet. */
export interface ReviewDraft {
  comment: string;
  marks: Marks;
  forFamily: string;
  /** How the next take is asked for, where it is otherwise. */
  asks: Asks | null;
}

const keyOf = (takeId: string) => `ulu-review-${takeId}`;

/** Words typed are kept on this device until they are sent: through another take, undo, another tab and reload. */
export function keepReviewDraft(takeId: string, draft: ReviewDraft | null): void {
  try {
    if (draft && (draft.comment || draft.forFamily || draft.asks || Object.keys(draft.marks).length > 0))
      localStorage.setItem(keyOf(takeId), JSON.stringify(draft));
    else localStorage.removeItem(keyOf(takeId));
  } catch {
    // A private window keeps nothing: the words live as long as the page.
  }
}

function keptReviewDraft(takeId: string): ReviewDraft | null {
  try {
    const kept = localStorage.getItem(keyOf(takeId));
    return kept ? (JSON.parse(kept) as ReviewDraft) : null;
  } catch {
    return null;
  }
}

/** The draft of the open take: what was kept of it, else what was said of the take before. */
export function useReviewDraft(take: Pick<TakeDetail, "id" | "review" | "markedBy" | "asks">): {
  draft: ReviewDraft;
  change: (change: Partial<ReviewDraft>) => void;
} {
  const said = {
    comment: take.review?.comment ?? "",
    marks: fitting(take.review?.marks ?? {}, take.markedBy),
    forFamily: take.review?.forFamily ?? "",
    asks: take.asks,
  };
  const [draft, setDraft] = useState<ReviewDraft>(said);
  const { id, markedBy } = take;
  // After the first paint: the server has no drafts.
  useEffect(() => {
    const kept = keptReviewDraft(id);
    if (kept)
      setDraft({
        ...kept,
        asks: kept.asks ?? null,
        forFamily: kept.forFamily ?? "",
        marks: fitting(kept.marks, markedBy),
      });
  }, [id, markedBy]);
  const change = useCallback(
    (changed: Partial<ReviewDraft>) =>
      setDraft((before) => {
        const now = { ...before, ...changed };
        keepReviewDraft(id, now);
        return now;
      }),
    [id],
  );
  return { draft, change };
}

/** A mark that its rubric no longer has is let go: it could not be kept. */
function fitting(marks: Marks, { rubric }: MarkedBy): Marks {
  return Object.fromEntries(
    Object.entries(marks).filter(
      ([id, level]) =>
        rubric.school === "marks" &&
        level <= rubric.levels.length &&
        rubric.criteria.some((criterion) => criterion.id === id),
    ),
  );
}
