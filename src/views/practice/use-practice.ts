import { useEffect, useState } from "react";
import { call } from "../../client/api";
import { factsHere } from "../../client/practice-log";
import type { Fact } from "../../core/practice";
import type { PracticeView } from "../../services/practice/wire";

/** What the tools, cards and log need, and what this device did that the bench may not know of yet. */
export function usePractice(playerId: string) {
  const [view, setView] = useState<PracticeView | null>(null);
  const [own, setOwn] = useState<Fact[]>([]);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    Promise.all([call<PracticeView>("GET", "/api/practice"), factsHere(playerId)]).then(
      ([found, facts]) => {
        setOwn(facts);
        setView(found);
      },
      (error: Error) => setProblem(error.message),
    );
  }, [playerId]);
  return { view, own, problem, add: (fact: Fact) => setOwn((before) => [...before, fact]) };
}
