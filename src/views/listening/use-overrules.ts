import { useMemo, useRef, useState } from "react";
import { ApiError, call } from "../../client/api";
import type { Assessment } from "../../core/listen";
import { aboutOf, type CauseKind, type Overrule, overruled } from "../../core/progress";
import type { TakeDetail } from "../../services/listening/wire";
import { useCall } from "../../ui/use-call";
import { type Finding, findings } from "../../ui/wording";

export interface Overruling {
  /** As it counts: the director's words in place of the engine's; null where there is nothing to see. */
  shown: Assessment | null;
  /** The engine heard something, and the director set it aside as a whole. */
  setAside: boolean;
  found: readonly Finding[];
  /** Findings of the engine that are not so. */
  dropped: readonly Finding[];
  toggle: (word: Overrule) => void;
  problem: string;
}

/**
 * A director's words against the engine's on one take: seen at once, kept by the server, taken back by the same press.
 * @param distrusted  kinds of which nothing is suggested any more
 */
export function useOverrules(
  { id, assessment, score, overrules, ownWords, instrumentId }: TakeDetail,
  distrusted: readonly CauseKind[],
): Overruling {
  const [words, setWords] = useState<readonly Overrule[]>(overrules);
  const { say, problem } = useCall();
  /** Words are kept one after the other: a quick second press is a word like the first. */
  const underWay = useRef<Promise<void>>(Promise.resolve());
  const shown = useMemo(
    () => (assessment ? overruled(assessment, score, words) : null),
    [assessment, score, words],
  );
  const advice = useMemo(() => ({ own: ownWords, instrumentId }), [ownWords, instrumentId]);
  const found = useMemo(
    () =>
      shown
        ? findings(shown, score, advice).map((finding) =>
            distrusted.includes(finding.cause.kind) ? { ...finding, advice: null } : finding,
          )
        : [],
    [shown, score, advice, distrusted],
  );
  const dropped = useMemo(() => {
    const ids = new Set(words.flatMap((word) => (word.about === "cause" ? word.causeId : [])));
    return assessment && ids.size > 0
      ? findings(assessment, score).filter(({ cause }) => ids.has(cause.id))
      : [];
  }, [assessment, score, words]);
  const toggle = (word: Overrule) => {
    const same = (other: Overrule) => aboutOf(other) === aboutOf(word);
    const on = !words.some((other) => same(other) && JSON.stringify(other) === JSON.stringify(word));
    const before = words.filter(same);
    setWords([...words.filter((other) => !same(other)), ...(on ? [word] : [])]);
    say("");
    underWay.current = underWay.current
      .then(() => call("PUT", `/api/takes/${id}/overrule`, { word, on }, { keepalive: true }))
      .then(
        () => undefined,
        (error) => {
          say(
            error instanceof ApiError ? error.message : "Your word could not be kept. Try again in a moment.",
          );
          setWords((now) => [...now.filter((other) => !same(other)), ...before]);
        },
      );
  };
  return { shown, setAside: words.some(({ about }) => about === "take"), found, dropped, toggle, problem };
}
