import { useCallback, useEffect, useState } from "react";
import type { TakeDetail } from "../../services/listening/wire";
import type { Marks } from "./YourEar";

/** What a director has written about a take and not sent yet. */
export interface ReviewDraft {
  comment: string;
  marks: Marks;
}

const keyOf = (takeId: string) => `ulu-review-${takeId}`;

/** Words typed are kept on this device until they are sent: through another take, undo, another tab and reload. */
export function keepReviewDraft(takeId: string, draft: ReviewDraft | null): void {
  try {
    if (draft && (draft.comment || Object.keys(draft.marks).length > 0))
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
export function useReviewDraft(take: Pick<TakeDetail, "id" | "review">): {
  draft: ReviewDraft;
  change: (change: Partial<ReviewDraft>) => void;
} {
  const said = { comment: take.review?.comment ?? "", marks: (take.review?.marks ?? {}) as Marks };
  const [draft, setDraft] = useState<ReviewDraft>(said);
  const { id } = take;
  // After the first paint: the server has no drafts.
  useEffect(() => {
    const kept = keptReviewDraft(id);
    if (kept) setDraft(kept);
  }, [id]);
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
