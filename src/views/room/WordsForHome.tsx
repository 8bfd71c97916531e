import { useState } from "react";
import { call } from "../../client/api";
import { useCall } from "../../ui/use-call";
import { useOwnVoice } from "../../ui/use-own-voice";

const LONGEST_SEC = 60;

interface Props {
  /** The line that is on, and the day. */
  title: string;
  label: string;
}

/** The director's own words, said in passing: kept with the spoken reminders, for play-along files of the line. */
export function WordsForHome({ title, label }: Props) {
  const { run, problem } = useCall();
  const [kept, setKept] = useState(false);
  const keep = async (sound: Blob) => {
    const name = `${title}, ${label}`.slice(0, 80);
    const done = await run(
      () => call("POST", `/api/reminders?name=${encodeURIComponent(name)}`, sound),
      "Your words could not be kept. Say them once more in a moment.",
    );
    setKept(done !== undefined);
  };
  const voice = useOwnVoice(LONGEST_SEC, (sound) => void keep(sound));
  return (
    <>
      <button
        type="button"
        className={`btn btn-sm ${voice.recording ? "btn-error" : "border-base-300 bg-base-100 text-base-content"}`}
        onClick={voice.toggle}
      >
        {voice.recording ? "Stop" : kept ? "Words for home ✓" : "Words for home"}
      </button>
      {voice.recording && (
        <span>
          Only you speak now: your words go into play-along files of this line until you take them out.
        </span>
      )}
      {(voice.problem || problem) && <span role="alert">{voice.problem || problem}</span>}
    </>
  );
}
