import { useState } from "react";
import { call } from "../client/api";
import { instrumentById } from "../core/music";
import type { OpenQuestion } from "../services/practice/wire";
import { Problem } from "./Problem";
import { RecordSound } from "./RecordSound";
import { useCall } from "./use-call";

/** An answer is short, seconds; a line is played in less. */
const LONGEST_ANSWER_SEC = 120;

/** A player's question at a line, answered in words, by voice or played. */
export function QuestionAnswer({ question, answered }: { question: OpenQuestion; answered: () => void }) {
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
        <RecordSound sound={sound} change={setSound} longestSec={LONGEST_ANSWER_SEC} label="Play or say it" />
        <button type="submit" className="btn btn-sm" disabled={busy || (answer.trim() === "" && !sound)}>
          Answer
        </button>
      </form>
      <Problem text={problem} />
    </li>
  );
}
