import { Waveform } from "../../ui/Waveform";
import { clock } from "../../ui/wording";
import { Key } from "./Key";
import { KeySheet } from "./KeySheet";
import type { Listening } from "./use-listening";

interface Props {
  listening: Listening;
  /** What can be heard beside it; nothing where no note was looked for. */
  beside: React.ReactNode;
  seconds: number;
  findings: number;
  help: boolean;
  toggleHelp: () => void;
}

/** The sound of the take with what moves through it; it stays in view. */
export function Transport({ listening, beside, seconds, findings, help, toggleHelp }: Props) {
  const { wave, sec, playing, slow, failed, next, playPause, toggleSlow, waveform } = listening;
  const plain = "border-base-300 bg-base-100";
  return (
    <div className="flex flex-col gap-2">
      <Waveform ref={wave} {...waveform} />
      {failed && (
        <p role="alert" className="text-felt">
          This recording cannot be played here.
        </p>
      )}
      {help && <KeySheet />}
      {beside}
      <div className="flex flex-wrap items-center gap-2">
        <button type="button" className="btn btn-primary" onClick={playPause}>
          {playing ? "Pause" : "Play"} <kbd className="key">Space</kbd>
        </button>
        <button type="button" className={`btn ${plain}`} disabled={findings === 0} onClick={next}>
          Next finding <Key of="N" />
        </button>
        <button
          type="button"
          className={`btn ${slow ? "btn-secondary" : plain}`}
          aria-pressed={slow}
          onClick={toggleSlow}
        >
          Slower <Key of="S" />
        </button>
        <button type="button" className={`btn ${plain}`} onClick={toggleHelp} aria-expanded={help}>
          Keys <kbd className="key">?</kbd>
        </button>
        <span className="ml-auto text-sm text-quiet">
          {clock(sec)} of {clock(seconds)}
        </span>
      </div>
    </div>
  );
}
