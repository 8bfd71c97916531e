import { useEffect, useState } from "react";
import { ApiError, call } from "../../client/api";
import type { LineRecordingView } from "../../services/shelf/schema";
import { FileInput } from "../../ui/FileInput";
import { useReady } from "../../ui/use-ready";
import { RecordingPlayer } from "../pencil/RecordingPlayer";

const LARGEST_MB = 40;

/** The director's own recordings and backing tracks of a line: attach, tap the bars, play slower. */
export function Recordings({ lineId }: { lineId: string }) {
  const ready = useReady();
  const [recordings, setRecordings] = useState<LineRecordingView[] | null>(null);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const [removed, setRemoved] = useState<LineRecordingView | null>(null);

  const load = async () =>
    setRecordings(
      (await call<{ recordings: LineRecordingView[] }>("GET", `/api/lines/${lineId}/recordings`)).recordings,
    );
  // biome-ignore lint/correctness/useExhaustiveDependencies: loaded once for the line
  useEffect(() => {
    load().catch((error: Error) => setProblem(error.message));
  }, [lineId]);

  const attempt = async (work: () => Promise<unknown>) => {
    setProblem("");
    setBusy(true);
    try {
      await work();
      await load();
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "This could not be done.");
    } finally {
      setBusy(false);
    }
  };
  const attach = (chosen: File | undefined) => {
    if (!chosen) return;
    if (chosen.size > LARGEST_MB * 1e6)
      return setProblem(
        `${chosen.name} has ${Math.round(chosen.size / 1e6)} MB; the most that can be attached is ${LARGEST_MB} MB.`,
      );
    const name = chosen.name.replace(/\.[^.]+$/, "");
    void attempt(() =>
      call("POST", `/api/lines/${lineId}/recordings?${new URLSearchParams({ name })}`, chosen),
    );
  };

  return (
    <div className="flex flex-col gap-4">
      <label className="flex flex-wrap items-center gap-3">
        <span className="font-bold">Attach a recording or backing track</span>
        <FileInput
          className="file-input border-neutral"
          accept="audio/*,.wav,.flac,.mp3,.ogg,.webm,.m4a"
          disabled={!ready || busy}
          onFiles={([chosen]) => attach(chosen)}
        />
      </label>
      {busy && <p className="text-sm text-quiet">Working …</p>}
      {problem && (
        <p role="alert" className="text-sm font-bold text-felt">
          {problem}
        </p>
      )}
      {removed && (
        <p className="text-sm" aria-live="polite">
          {removed.name} was taken off the line.{" "}
          <button
            type="button"
            className="link"
            onClick={() =>
              attempt(() => call("DELETE", `/api/recordings/${removed.id}/removed`)).then(() =>
                setRemoved(null),
              )
            }
          >
            Put it back
          </button>
        </p>
      )}
      {recordings?.length === 0 && (
        <p className="text-sm text-quiet">
          Nothing is attached. A recording from your phone will do; players who have this line hear it too.
        </p>
      )}
      {recordings?.map((recording) => (
        <RecordingPlayer
          key={recording.id}
          recording={recording}
          saveBars={(bars) => attempt(() => call("PUT", `/api/recordings/${recording.id}`, { bars }))}
          remove={() =>
            attempt(() => call("PUT", `/api/recordings/${recording.id}/removed`)).then(() =>
              setRemoved(recording),
            )
          }
        />
      ))}
    </div>
  );
}
