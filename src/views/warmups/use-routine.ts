import { useState } from "react";
import type { Block, Routine } from "../../core/warmup";
import type { RoutineDetail } from "../../services/warmups/schema";
import { useHistory } from "../../ui/use-history";
import { useLeaving } from "../../ui/use-leaving";
import { useRevision } from "../../ui/use-revision";

/** A routine while it is worked on: every change can be taken back, a save makes the next version. */
export function useRoutine(opened: RoutineDetail) {
  const history = useHistory(() => opened.content);
  const { now, change } = history;
  const revision = useRevision(
    `/api/routines/${opened.id}`,
    opened.version,
    "The routine could not be saved. Try again in a moment.",
  );
  const [kept, setKept] = useState<Routine>(opened.content);
  const [versions, setVersions] = useState(opened.versions);
  const changed = now !== kept && JSON.stringify(now) !== JSON.stringify(kept);

  useLeaving(changed);

  const save = async () => {
    const version = await revision.save({ content: now });
    if (version === null) return;
    setKept(now);
    if (version !== revision.version)
      setVersions((all) => [
        { number: version, at: new Date().toISOString(), title: now.title, blocks: now.blocks.length },
        ...all,
      ]);
  };

  return {
    ...history,
    changeBlock: (block: Block) =>
      change({ ...now, blocks: now.blocks.map((each) => (each.id === block.id ? block : each)) }),
    changed,
    save,
    saving: revision.busy,
    problem: revision.problem,
    version: revision.version,
    versions,
  };
}
