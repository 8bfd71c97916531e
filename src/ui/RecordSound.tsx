import { useEffect, useMemo } from "react";
import { useOwnVoice } from "./use-own-voice";

interface Props {
  sound: Blob | null;
  change: (sound: Blob | null) => void;
  longestSec: number;
  /** What the button says before there is anything. */
  label: string;
}

/** Words in the director's own voice, or played: recorded, heard once, kept with what is written. */
export function RecordSound({ sound, change, longestSec, label }: Props) {
  const { recording, problem, toggle } = useOwnVoice(longestSec, change);
  const heard = useMemo(() => (sound ? URL.createObjectURL(sound) : ""), [sound]);
  useEffect(() => () => URL.revokeObjectURL(heard), [heard]);
  return (
    <>
      {sound && !recording && (
        <>
          {/* biome-ignore lint/a11y/useMediaCaption: the director's own voice, just recorded */}
          <audio controls src={heard} className="h-8 w-56" />
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => change(null)}>
            Without it
          </button>
        </>
      )}
      <button
        type="button"
        className={`btn btn-sm ${recording ? "btn-error" : "border-base-300 bg-base-100"}`}
        onClick={toggle}
      >
        {recording ? "Stop" : sound ? "Record anew" : label}
      </button>
      {problem && (
        <p role="alert" className="w-full text-felt">
          {problem}
        </p>
      )}
    </>
  );
}
