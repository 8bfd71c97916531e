import { ThumbBar } from "./ThumbBar";
import type { TakeStage } from "./use-take";

const PLAIN = "btn h-14 flex-1 border-base-300 bg-base-100";

interface Props {
  stage: TakeStage;
  sounding: "nothing" | "reference" | "recording";
  canRecord: boolean;
  /** What is pressed most lies at the left thumb. */
  leftHanded: boolean;
  count: number;
  level: number;
  /** Seconds recorded so far, by the recorder itself. */
  seconds: number;
  hear: () => void;
  stopHearing: () => void;
  startRecording: () => void;
  stopRecording: () => void;
  chooseFile: (file: File | undefined) => void;
  again: () => void;
  send: () => void;
  playAgain: () => void;
  close: () => void;
}

/** What can be done now, at the thumb: hear, record, send; listen back; or leave. */
export function TaskBar({
  stage,
  sounding,
  canRecord,
  leftHanded,
  count,
  level,
  seconds,
  hear,
  stopHearing,
  startRecording,
  stopRecording,
  chooseFile,
  again,
  send,
  playAgain,
  close,
}: Props) {
  return (
    <ThumbBar leftHanded={leftHanded}>
      {stage === "none" && sounding === "nothing" && (
        <>
          <button type="button" className={PLAIN} onClick={hear}>
            Hear it
          </button>
          {canRecord && (
            <button type="button" className="btn btn-primary h-14 flex-[2]" onClick={startRecording}>
              Record
            </button>
          )}
          <label className={`${PLAIN} focus-within:outline-3 focus-within:outline-accent`}>
            Send a file
            <input
              type="file"
              className="sr-only"
              accept="audio/*,.wav,.flac,.mp3,.ogg,.webm,.m4a"
              onChange={(event) => {
                chooseFile(event.target.files?.[0]);
                event.target.value = "";
              }}
            />
          </label>
        </>
      )}
      {sounding === "reference" && (
        <button type="button" className="btn btn-primary h-14 flex-1" onClick={stopHearing}>
          {count > 0 ? `${count} …` : "Stop"}
        </button>
      )}
      {sounding === "recording" && (
        <button type="button" className="btn btn-error h-14 flex-1" onClick={stopRecording}>
          {count > 0 ? `Count ${count} …` : "Stop recording"}
          <span className="ml-2 font-normal tabular-nums" data-testid="recorded">
            {Math.floor(seconds / 60)}:{String(seconds % 60).padStart(2, "0")}
          </span>
          <meter className="ml-3 w-24" min={0} max={1} high={0.95} value={level} aria-label="Level" />
        </button>
      )}
      {stage === "draft" && (
        <>
          <button type="button" className={PLAIN} onClick={again}>
            Once more
          </button>
          <button type="button" className="btn btn-primary h-14 flex-[2]" onClick={send}>
            Send this take
          </button>
        </>
      )}
      {stage === "sent" && (
        <>
          <button type="button" className={PLAIN} onClick={playAgain}>
            Play it again
          </button>
          <button type="button" className="btn btn-primary h-14 flex-[2]" onClick={close}>
            Back to my stand
          </button>
        </>
      )}
    </ThumbBar>
  );
}
