import { useEffect, useState } from "react";
import { call } from "../../../client/api";
import type { SectionSays, TaskDetail } from "../../../services/practice/wire";
import { sectionFaultName } from "../../../ui/wording";
import { Difference } from "../../shelf/Difference";

/** Right and wrong by ear: what the own section often does first, where that is known. */
export function HearDifference({
  task,
  answered,
}: {
  task: TaskDetail;
  /** Told of the first answer to each pair. */
  answered?: (right: boolean) => void;
}) {
  const [says, setSays] = useState<SectionSays | null | undefined>(undefined);
  useEffect(() => {
    call<{ says: SectionSays | null }>("GET", `/api/tasks/${task.id}/section`).then(
      (answer) => setSays(answer.says),
      // Without network there are the usual ones.
      () => setSays(null),
    );
  }, [task.id]);
  if (says === undefined) return <p className="text-quiet">One moment …</p>;
  const section = says && {
    fault: says.fault,
    name: sectionFaultName(says.fault, says.cause, task.recordScore),
  };
  return (
    <>
      {says && section && (
        <p>
          In {says.takes} of {says.of} takes of your section {section.name}. Can you hear it?
        </p>
      )}
      <Difference
        score={task.recordScore}
        bpm={task.goalBpm}
        sound={task.instrumentId}
        section={section ?? undefined}
        answered={answered}
      />
    </>
  );
}

/** So many right answers in a row are no luck: one in eight by guessing. */
const IN_A_ROW = 3;

/** The same as a step of a line: right answers in a row lead on. */
export function EarStep({ task, done }: { task: TaskDetail; done: () => void }) {
  const [row, setRow] = useState(0);
  const answered = (right: boolean) => {
    const now = right ? row + 1 : 0;
    setRow(now);
    if (now === IN_A_ROW) done();
  };
  return (
    <div className="panel flex flex-col gap-3 p-3" data-testid="ear-step">
      <HearDifference task={task} answered={answered} />
      <p className="text-sm text-quiet">
        {row} of {IN_A_ROW} right in a row. Mix them again after each.
      </p>
    </div>
  );
}
