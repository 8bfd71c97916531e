import { useCallback, useState } from "react";
import type { Pitch } from "../../../core/music";
import { type Passage, type Place, startingTempo } from "../../../core/practice";
import type { TaskDetail } from "../../../services/practice/wire";

/** Two written notes whose change is drilled. */
export interface Pair {
  from: string;
  to: string;
  pitches: readonly [Pitch, Pitch];
}

/** What is done beside the path for a while: some bars in a loop, or the change of two notes. */
export function useSpecial(task: TaskDetail) {
  const [loop, setLoop] = useState<Place | null>(null);
  const [drill, setDrill] = useState<Pair | null>(null);
  const end = useCallback(() => {
    setLoop(null);
    setDrill(null);
  }, []);
  const practise = useCallback(
    ({ from, to }: Passage, bpm?: number) => {
      setDrill(null);
      setLoop({
        id: `loop ${from}-${to}`,
        kind: "part",
        from,
        to,
        bpm: bpm ?? startingTempo(task.score, task.goalBpm).bpm,
        why: null,
      });
      scrollTo(0, 0);
    },
    [task],
  );
  const practiseBar = useCallback((bar: number) => practise({ from: bar, to: bar }), [practise]);
  const practisePair = useCallback((pair: Pair) => {
    setLoop(null);
    setDrill(pair);
    scrollTo(0, 0);
  }, []);
  return { loop, drill, practise, practiseBar, practisePair, end };
}
export type Special = ReturnType<typeof useSpecial>;
