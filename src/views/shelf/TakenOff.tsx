import { call } from "../../client/api";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

/** Says that a line was archived a moment ago, and puts it back when that was a mistake. */
export function TakenOff({ lineId, title }: { lineId: string; title: string }) {
  const { busy, problem, run } = useCall();
  const undo = async () => {
    const done = await run(
      () => call("POST", `/api/lines/${lineId}/removed`, { removed: false }),
      "This could not be undone.",
    );
    if (done) location.assign(`/shelf/${lineId}`);
  };
  return (
    <output className="panel flex flex-wrap items-center justify-between gap-3 px-3 py-1 text-sm">
      {title} is in the archive.
      <button type="button" className="btn btn-ghost btn-sm" disabled={busy} onClick={undo}>
        Undo
      </button>
      <Problem text={problem} />
    </output>
  );
}
