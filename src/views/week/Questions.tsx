import { useEffect, useMemo, useRef, useState } from "react";
import { call } from "../../client/api";
import { type Recording, record } from "../../client/sound";
import { writeWav } from "../../core/audio";
import { instrumentById } from "../../core/music";
import type { OpenQuestion } from "../../services/practice/wire";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

/** An answer is short, seconds; a line is played in less. */
const LONGEST_ANSWER_SEC = 120;

/** What players asked about their lines, to be answered in place; nothing where nobody asked. */
export function Questions() {
  const [waiting, setWaiting] = useState<OpenQuestion[]>([]);
  useEffect(() => {
    call<OpenQuestion[]>("GET", "/api/questions").then(setWaiting, () => undefined);
  }, []);
  if (waiting.length === 0) return null;
  return (
    <section className="panel mt-4 p-4" aria-label="Questions of players">
      <h2 className="text-xl">
        {waiting.length === 1 ? "One question waits" : `${waiting.length} questions wait`}
      </h2>
      <ul className="divide-y divide-base-300">
        {waiting.map((question) => (
          <Question
            key={question.id}
            question={question}
            answered={() => setWaiting((before) => before.filter(({ id }) => id !== question.id))}
          />
        ))}
      </ul>
    </section>
  );
}

function Question({ question, answered }: { question: OpenQuestion; answered: () => void }) {
  const [answer, setAnswer] = useState("");
  const [sound, setSound] = useState<Blob | null>(null);
  const { run, busy, problem } = useCall();
  const { kind, lineId, lineNumber, lineTitle, measure, playerName, instrumentId, text, askedLabel } =
    question;
  const send = async () => {
    const kept = await run(async () => {
      if (answer.trim() !== "") await call("PUT", `/api/questions/${question.id}`, { answer });
      if (sound) await call("PUT", `/api/questions/${question.id}/sound`, sound);
      return true;
    }, "The answer could not be kept. It stays here; try again in a moment.");
    if (kept) answered();
  };
  return (
    <li className="flex flex-col gap-1 py-2">
      <p>
        <b>
          {playerName}, {instrumentById(instrumentId).name}
        </b>{" "}
        ·{" "}
        <a className="underline" href={`/shelf/${lineId}?part=${instrumentId}`}>
          {lineNumber ? `No. ${lineNumber} · ` : ""}
          {lineTitle}
        </a>
        {measure ? `, bar ${measure}` : ""} · <span className="text-quiet">{askedLabel}</span>
      </p>
      <p>{kind === "please-play" ? "Please play this for me." : text}</p>
      <form
        className="flex flex-wrap gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void send();
        }}
      >
        <input
          className="input input-sm min-w-64 flex-1 border-neutral"
          aria-label={`Answer to ${playerName}`}
          value={answer}
          maxLength={800}
          placeholder={kind === "please-play" ? "A word with it, if you like" : "Your answer"}
          onChange={(event) => setAnswer(event.target.value)}
        />
        <RecordAnswer sound={sound} change={setSound} />
        <button type="submit" className="btn btn-sm" disabled={busy || (answer.trim() === "" && !sound)}>
          Answer
        </button>
      </form>
      <Problem text={problem} />
    </li>
  );
}

/** An answer in the director's own voice, or played: recorded, heard once, sent with the words. */
function RecordAnswer({ sound, change }: { sound: Blob | null; change: (sound: Blob | null) => void }) {
  const [running, setRunning] = useState<Recording | null>(null);
  const [problem, setProblem] = useState("");
  const starting = useRef(false);
  const heard = useMemo(() => (sound ? URL.createObjectURL(sound) : ""), [sound]);
  useEffect(() => () => URL.revokeObjectURL(heard), [heard]);
  const stop = async (recording: Recording) => {
    setRunning(null);
    const { pcm } = await recording.stop();
    change(new Blob([writeWav(pcm)], { type: "audio/wav" }));
  };
  const latest = useRef(stop);
  latest.current = stop;
  useEffect(() => {
    if (!running) return;
    // A forgotten recording ends by itself; a page that is left takes the microphone away.
    const limit = setTimeout(() => void latest.current(running), 1000 * LONGEST_ANSWER_SEC);
    return () => {
      clearTimeout(limit);
      running.cancel();
    };
  }, [running]);
  const start = async () => {
    if (starting.current) return;
    starting.current = true;
    setProblem("");
    try {
      setRunning(await record());
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      starting.current = false;
    }
  };
  return (
    <>
      {sound && !running && (
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
        className={`btn btn-sm ${running ? "btn-error" : "border-base-300 bg-base-100"}`}
        onClick={() => (running ? void stop(running) : void start())}
      >
        {running ? "Stop" : sound ? "Record anew" : "Play or say it"}
      </button>
      {problem && (
        <p role="alert" className="w-full text-felt">
          {problem}
        </p>
      )}
    </>
  );
}
