import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { ApiError } from "../../client/api";
import { firstAnswer } from "../../client/first-answer";
import {
  dropTake,
  type KeptTake,
  keepDraft,
  keptTakes,
  markSending,
  sendUntilDone,
} from "../../client/outbox";
import { decodeInBrowser, type Playing, playPlan, type Recording, record } from "../../client/sound";
import { type Pcm, writeWav } from "../../core/audio";
import type { Assessment } from "../../core/listen";
import { playAlong } from "../../core/playalong";
import { timeline } from "../../core/score";
import type { TakeSummary, TaskDetail } from "../../services/practice/wire";
import { FingeringList } from "../../ui/Fingering";
import { Notation } from "../../ui/Notation";
import { spots, takeSentence } from "../../ui/wording";

type Phase = "ready" | "playing" | "counting" | "recording" | "listening-back" | "sending" | "sent";

interface Props {
  task: TaskDetail;
  playerId: string;
  close: () => void;
  reload: () => void;
}

const LARGEST_FILE_MB = 60;

/** One task: the part, hear it, play it, listen back, send. */
export function TaskDesk({ task, playerId, close, reload }: Props) {
  const [phase, setPhase] = useState<Phase>("ready");
  const [bpm, setBpm] = useState(task.goalBpm);
  const [clickOn, setClickOn] = useState(false);
  const [problem, setProblem] = useState("");
  const [note, setNote] = useState("");
  const [level, setLevel] = useState(0);
  const [count, setCount] = useState(0);
  const [cursorId, setCursorId] = useState<string | null>(null);
  const [draft, setDraft] = useState<KeptTake | null>(null);
  const [answer, setAnswer] = useState<Assessment | null>(null);
  const [progress, setProgress] = useState(0);
  const playing = useRef<Playing | null>(null);
  const recording = useRef<Recording | null>(null);
  const canRecord = typeof navigator !== "undefined" && Boolean(navigator.mediaDevices?.getUserMedia);

  const line = useMemo(() => timeline(task.score, { bpm }), [task.score, bpm]);
  const plan = useMemo(() => playAlong(line), [line]);
  const heard = useMemo(() => (draft ? URL.createObjectURL(draft.sound) : ""), [draft]);
  useEffect(() => () => URL.revokeObjectURL(heard), [heard]);

  const assessHere = useCallback(
    async (pcm: Pcm) => {
      try {
        setAnswer(
          await firstAnswer(task.score, pcm, {
            bpm: task.goalBpm,
            instrumentId: task.instrumentId,
            ...task.tolerances,
          }),
        );
      } catch {
        setNote(
          "The first answer cannot be worked out on this device; the bench will answer when the take has arrived.",
        );
      }
    },
    [task],
  );

  const send = useCallback(
    async (take: KeptTake) => {
      setPhase("sending");
      setProblem("");
      setProgress(0);
      try {
        const pcm = decodeInBrowser(await take.sound.arrayBuffer()).then(assessHere, () =>
          setNote("The bench will answer when the take has arrived."),
        );
        await sendUntilDone(await markSending(take), setProgress, setNote);
        await pcm;
        setNote("");
        setDraft(null);
        setPhase("sent");
      } catch (error) {
        const refusal = error as ApiError;
        setProblem(refusal.message);
        if (refusal instanceof ApiError && refusal.code === "bad-input") {
          await dropTake(take.id);
          setDraft(null);
        }
        setPhase(refusal.code === "bad-input" ? "ready" : "listening-back");
      }
    },
    [assessHere],
  );

  // A take that was recorded before a reload is still here.
  useEffect(() => {
    let current = true;
    keptTakes(playerId)
      .then((kept) => {
        const own = kept.filter((take) => take.taskId === task.id).at(-1);
        if (!current || !own) return;
        setDraft(own);
        if (own.state === "sending") void send(own);
        else {
          setPhase("listening-back");
          setNote("This take was kept on your device.");
        }
      })
      .catch(() =>
        setNote("This browser does not keep takes across a reload; send each one before you leave."),
      );
    return () => {
      current = false;
    };
  }, [playerId, task.id, send]);

  useEffect(
    () => () => {
      playing.current?.stop();
      recording.current?.cancel();
    },
    [],
  );

  const follow = (startsAt: number) => {
    const begun = performance.now() - 80;
    const tick = () => {
      if (!playing.current && !recording.current) return setCursorId(null);
      const sec = (performance.now() - begun) / 1000 - 0.08;
      const event = plan.events.findLast((each) => each.kind === "note" && each.atSec <= sec);
      setCursorId(event?.eventId ?? null);
      const counted = plan.events.filter((each) => each.kind === "count" && each.atSec <= sec).length;
      setCount(sec < plan.startSec ? counted : 0);
      if (recording.current) setLevel(recording.current.level());
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
    return startsAt;
  };

  const hear = async () => {
    setProblem("");
    playing.current?.stop();
    const sound = await playPlan(plan, { count: true, click: true, reference: true });
    playing.current = sound;
    setPhase("playing");
    follow(sound.startsAt);
    await sound.ended;
    if (playing.current === sound) {
      playing.current = null;
      setPhase("ready");
    }
  };

  const stopHearing = () => {
    playing.current?.stop();
    playing.current = null;
    setPhase("ready");
  };

  const startRecording = async () => {
    setProblem("");
    setNote("");
    try {
      recording.current = await record();
      const sound = await playPlan(plan, { count: true, click: clickOn, reference: false });
      playing.current = sound;
      setPhase("recording");
      follow(sound.startsAt);
    } catch (error) {
      recording.current?.cancel();
      recording.current = null;
      setProblem((error as Error).message);
    }
  };

  const stopRecording = async () => {
    const running = recording.current;
    if (!running) return;
    recording.current = null;
    playing.current?.stop();
    playing.current = null;
    const pcm = await running.stop();
    await keep(new Blob([writeWav(pcm)], { type: "audio/wav" }));
  };

  const keep = async (sound: Blob) => {
    try {
      setDraft(await keepDraft(task.id, playerId, sound));
      setPhase("listening-back");
    } catch {
      setProblem("This device has no room to keep the take. Free some space, then record again.");
      setPhase("ready");
    }
  };

  const chooseFile = async (file: File | undefined) => {
    if (!file) return;
    setProblem("");
    if (file.size > LARGEST_FILE_MB * 1e6)
      return setProblem(
        `${file.name} has ${Math.round(file.size / 1e6)} MB; the most that can be sent is ${LARGEST_FILE_MB} MB. Choose a shorter recording.`,
      );
    if (file.size === 0) return setProblem(`${file.name} is empty.`);
    await keep(file);
  };

  const again = async () => {
    if (draft) await dropTake(draft.id);
    setDraft(null);
    setNote("");
    setAnswer(null);
    setPhase("ready");
  };

  const last = task.history[0];
  return (
    <main className="mx-auto flex min-h-screen max-w-3xl flex-col gap-4 px-4 pb-32 pt-4">
      <div className="flex items-center justify-between gap-3">
        <button type="button" className="btn btn-ghost h-11 px-2" onClick={close}>
          ← My stand
        </button>
        <span className="text-sm text-quiet">due {task.dueLabel}</span>
      </div>
      <div>
        <h1 className="text-3xl leading-tight">
          {task.lineNumber ? `No. ${task.lineNumber} · ` : ""}
          {task.lineTitle}
        </h1>
        <p className="text-quiet">
          {task.instrumentName}, {task.part.key} · goal {task.goalBpm} bpm · {task.timesPerWeek} times this
          week
        </p>
        {task.note && <p className="mt-1">{task.note}</p>}
      </div>
      {last?.review && phase !== "sent" && <ReviewCard take={last} />}
      <div className="panel p-2 sm:p-4">
        <Notation
          svg={task.part.svg}
          label={`${task.lineTitle}, your part for ${task.instrumentName}`}
          cursorId={cursorId}
          lanes={
            answer?.take.status === "assessed" && phase === "sent"
              ? { assessment: answer, score: task.score, pass: 1 }
              : null
          }
        />
      </div>
      {answer && (phase === "sent" || phase === "sending") && <FirstAnswer answer={answer} task={task} />}
      {phase === "ready" && task.part.newNotes.length > 0 && (
        <section>
          <h2 className="mb-2 text-xl">New notes here</h2>
          <FingeringList notes={task.part.newNotes} />
        </section>
      )}
      {problem && (
        <p role="alert" className="rounded border border-felt bg-base-100 p-3 text-felt">
          {problem}
        </p>
      )}
      {note && <output className="panel block p-3">{note}</output>}
      {!canRecord && (
        <p className="panel p-3">
          This page cannot use the microphone because the address is not secure (https). Record with another
          program and send the file.
        </p>
      )}
      {phase === "ready" && (
        <div className="flex flex-wrap items-center gap-4">
          <label className="flex items-center gap-2">
            <span className="font-bold">Tempo</span>
            <input
              type="range"
              className="range range-sm w-40"
              min={40}
              max={160}
              step={4}
              value={bpm}
              onChange={(event) => setBpm(Number(event.target.value))}
              aria-valuetext={`${bpm} beats a minute`}
            />
            <span>{bpm}</span>
          </label>
          <label className="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="checkbox"
              checked={clickOn}
              onChange={(event) => setClickOn(event.target.checked)}
            />
            click while recording (wear headphones)
          </label>
        </div>
      )}
      {draft && phase === "listening-back" && (
        <section className="panel flex flex-col gap-2 p-4">
          <h2 className="text-xl">Listen back</h2>
          {/* biome-ignore lint/a11y/useMediaCaption: a student's own playing has no words */}
          <audio controls src={heard} className="w-full" />
          <p className="text-sm text-quiet">It stays on this device until the bench has it.</p>
        </section>
      )}
      {phase === "sending" && (
        <div className="panel p-4">
          <p className="font-bold">Sending …</p>
          <progress
            className="progress progress-success mt-2 w-full"
            value={progress}
            max={1}
            aria-label="Share sent"
          />
        </div>
      )}
      {phase === "ready" && task.history.length > 0 && <History takes={task.history} />}
      <div className="fixed inset-x-0 bottom-0 border-t border-base-300 bg-base-200">
        <div className="mx-auto flex max-w-3xl items-stretch gap-2 px-4 py-3">
          {phase === "ready" && (
            <>
              <button type="button" className="btn h-14 flex-1 border-base-300 bg-base-100" onClick={hear}>
                Hear it
              </button>
              {canRecord && (
                <button type="button" className="btn btn-primary h-14 flex-[2]" onClick={startRecording}>
                  Record
                </button>
              )}
              <label className="btn h-14 flex-1 border-base-300 bg-base-100 focus-within:outline-3 focus-within:outline-accent">
                Send a file
                <input
                  type="file"
                  className="sr-only"
                  accept="audio/*,.wav,.flac,.mp3,.ogg,.webm,.m4a"
                  onChange={(event) => chooseFile(event.target.files?.[0])}
                />
              </label>
            </>
          )}
          {phase === "playing" && (
            <button type="button" className="btn btn-primary h-14 flex-1" onClick={stopHearing}>
              {count > 0 ? `${count} …` : "Stop"}
            </button>
          )}
          {phase === "recording" && (
            <button type="button" className="btn btn-error h-14 flex-1" onClick={stopRecording}>
              {count > 0 ? `Count ${count} …` : "Stop recording"}
              <meter className="ml-3 w-24" min={0} max={1} high={0.95} value={level} aria-label="Level" />
            </button>
          )}
          {phase === "listening-back" && draft && (
            <>
              <button type="button" className="btn h-14 flex-1 border-base-300 bg-base-100" onClick={again}>
                Once more
              </button>
              <button type="button" className="btn btn-primary h-14 flex-[2]" onClick={() => send(draft)}>
                Send this take
              </button>
            </>
          )}
          {phase === "sent" && (
            <>
              <button type="button" className="btn h-14 flex-1 border-base-300 bg-base-100" onClick={reload}>
                Play it again
              </button>
              <button type="button" className="btn btn-primary h-14 flex-[2]" onClick={close}>
                Back to my stand
              </button>
            </>
          )}
        </div>
      </div>
    </main>
  );
}

function FirstAnswer({ answer, task }: { answer: Assessment; task: TaskDetail }) {
  const found = spots(answer, task.score).slice(0, 3);
  return (
    <section className="panel p-4" aria-live="polite" data-testid="first-answer">
      <h2 className="text-xl">{takeSentence(answer, true)}</h2>
      {answer.take.tempoBpm !== null && (
        <p className="text-sm text-quiet">
          Your own beat: {Math.round(answer.take.tempoBpm)} bpm, goal {task.goalBpm}.
        </p>
      )}
      {found.length > 0 && (
        <ul className="mt-2 flex flex-col gap-1">
          {found.map((spot) => (
            <li key={`${spot.place}${spot.sentence}`}>
              <span className="font-bold">{spot.place}:</span> {spot.sentence}
            </li>
          ))}
        </ul>
      )}
      {answer.take.status === "assessed" && found.length === 0 && (
        <p className="mt-1">Nothing stands out: in place from start to end.</p>
      )}
      <p className="mt-2 text-sm text-quiet">A first answer from this device. Your director listens too.</p>
    </section>
  );
}

function ReviewCard({ take }: { take: TakeSummary }) {
  const review = take.review!;
  return (
    <section
      className={`panel border-l-4 p-4 ${review.decision === "again" ? "border-l-felt" : "border-l-done"}`}
      data-testid="review"
    >
      <h2 className="text-xl">{review.decision === "again" ? "Please play it again" : "Accepted"}</h2>
      {review.comment && <p className="mt-1">{review.comment}</p>}
      {Object.keys(review.marks).length > 0 && (
        <p className="mt-1 text-sm text-quiet">
          {Object.entries(review.marks)
            .map(([name, mark]) => `${name} ${mark} of 4`)
            .join(" · ")}
        </p>
      )}
      <p className="mt-1 text-sm text-quiet">{review.reviewer}</p>
    </section>
  );
}

function History({ takes }: { takes: TakeSummary[] }) {
  return (
    <section>
      <h2 className="mb-1 text-xl">Takes you sent</h2>
      <ul className="panel divide-y divide-base-300">
        {takes.map((take) => (
          <li key={take.id} className="flex flex-wrap items-center gap-3 px-3 py-2">
            <span className="text-sm text-quiet">
              {new Date(take.recordedAt).toLocaleDateString("en-GB", {
                weekday: "short",
                day: "numeric",
                month: "short",
              })}
            </span>
            <span className="flex-1">
              {take.state === "unreadable"
                ? take.problem
                : take.assessment
                  ? takeSentence(take.assessment, true)
                  : "being listened to"}
            </span>
            {/* biome-ignore lint/a11y/useMediaCaption: a student's own playing has no words */}
            <audio controls preload="none" src={`/api/takes/${take.id}/sound`} className="h-9 w-56" />
          </li>
        ))}
      </ul>
    </section>
  );
}
