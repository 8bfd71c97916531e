import { takeSeconds } from "../../../client/activity";
import { tell } from "../../../client/practice-log";
import { readForm } from "../../../core/rhythm";
import type { TaskDetail } from "../../../services/practice/wire";
import { Activities } from "../../counting/Activities";

/** A counting page bar by bar: the one way to clap it before it is recorded. */
export function CountingBars({
  task,
  playerId,
  done,
}: {
  task: TaskDetail;
  playerId: string;
  done: () => void;
}) {
  const { forms, system } = task.counting!;
  return (
    <>
      <h1 className="text-3xl leading-tight">Bar by bar</h1>
      <Activities
        forms={forms.map(readForm)}
        bpm={task.goalBpm}
        loops={2}
        system={system}
        seed={forms.length}
        result={(activity, right, of) =>
          void tell(playerId, {
            kind: "counting",
            activity,
            right,
            of,
            taskId: task.id,
            seconds: takeSeconds(),
          })
        }
      />
      <button type="button" className="btn btn-primary h-14" onClick={done}>
        I can clap every bar
      </button>
    </>
  );
}
