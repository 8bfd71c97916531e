import { useEffect, useState } from "react";
import { localDay } from "../../../client/day";
import { record } from "../../../client/sound";
import { checkLevel, type LevelCheck as Found } from "../../../core/audio";

const KEPT_AS = "ulu-level-checked";
const QUIET_SEC = 1.5;
const PLAY_SEC = 2.5;

const SAYS: Record<Found["verdict"], string> = {
  good: "The microphone hears you well.",
  silent: "Nothing came in. Is the right microphone chosen, and switched on?",
  soft: "That was very soft. Come nearer, or turn the microphone up.",
  clipped: "Too loud for the microphone. Step back an arm's length.",
  noisy: "The room is loud. Close the door, or come nearer to the microphone.",
};

/** The room alone, then one note: whether a take will be heard well. Open by itself before the first take of a day. */
export function LevelCheck() {
  const [open, setOpen] = useState(false);
  const [phase, setPhase] = useState<"idle" | "quiet" | "play">("idle");
  const [found, setFound] = useState<Found | null>(null);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    try {
      setOpen(localStorage.getItem(KEPT_AS) !== localDay());
    } catch {
      // Nothing is kept here: it stays closed and can be opened.
    }
  }, []);

  const check = async () => {
    if (phase !== "idle") return;
    setProblem("");
    setFound(null);
    try {
      const recording = await record();
      setPhase("quiet");
      while (recording.seconds() < QUIET_SEC) await pause();
      setPhase("play");
      while (recording.seconds() < QUIET_SEC + PLAY_SEC) await pause();
      const { pcm } = await recording.stop();
      const heard = checkLevel(pcm, QUIET_SEC - 0.2);
      setFound(heard);
      if (heard.verdict === "good") localStorage.setItem(KEPT_AS, localDay());
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      setPhase("idle");
    }
  };
  return (
    <details className="panel p-3" open={open} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer font-bold">Does the microphone hear you?</summary>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="btn h-11 border-base-300 bg-base-100"
          disabled={phase !== "idle"}
          onClick={check}
        >
          Try it
        </button>
        <output className="flex-1" data-testid="level">
          {phase === "quiet"
            ? "Be quiet for a moment …"
            : phase === "play"
              ? "Now play one note."
              : problem || (found ? SAYS[found.verdict] : "Quiet for a moment, then one note.")}
        </output>
      </div>
    </details>
  );
}

const pause = () => new Promise((done) => requestAnimationFrame(done));
