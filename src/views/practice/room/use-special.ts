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

/** What is done beside the path for a while: some bars in a loop, the change of two notes, playing with a partner. */
export function useSpecial(task: TaskDetail) {
  const [loop, setLoop] = useState<Place | null>(null);
  const [drill, setDrill] = useState<Pair | null>(null);
  const [together, setTogether] = useState(false);
  const end = useCallback(() => {
    setLoop(null);
    setDrill(null);
    setTogether(false);
  }, []);
  const practise = useCallback(
    ({ from, to }: Passage, bpm?: number) => {
      setDrill(null);
      setTogether(false);
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
    setTogether(false);
    setDrill(pair);
    scrollTo(0, 0);
  }, []);
  const playTogether = useCallback(() => {
    setLoop(null);
    setDrill(null);
    setTogether(true);
    scrollTo(0, 0);
  }, []);
  return { loop, drill, together, practise, practiseBar, practisePair, playTogether, end };
}
export type Special = ReturnType<typeof useSpecial>;
