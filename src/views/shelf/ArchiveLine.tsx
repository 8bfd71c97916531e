import { call } from "../../client/api";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

/** Takes a line off the shelf; the shelf then says so and offers undo. */
export function ArchiveLine({ lineId, given }: { lineId: string; given: boolean }) {
  const { busy, problem, run } = useCall();
  const archive = async () => {
    const done = await run(
      () => call("POST", `/api/lines/${lineId}/removed`, { removed: true }),
      "This line could not be taken off the shelf.",
    );
    if (done) location.assign(`/shelf?taken=${lineId}`);
  };
  return (
    <div className="flex flex-col gap-1">
      <button
        type="button"
        className="btn btn-sm w-fit border-base-300 bg-base-100"
        disabled={busy}
        onClick={archive}
      >
        Take it off the shelf
      </button>
      <p className="text-sm text-quiet">
        It goes to the archive{given ? "; players who were given it keep it" : ""}. You can put it back.
      </p>
      <Problem text={problem} className="text-sm" />
    </div>
  );
}
