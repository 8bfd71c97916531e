import { useEffect, useMemo, useRef, useState } from "react";
import { alive, takeSeconds } from "../../../client/activity";
import { tell } from "../../../client/practice-log";
import { playAlong } from "../../../core/playalong";
import { timeline } from "../../../core/score";
import type { TaskDetail } from "../../../services/practice/wire";
import { LanedNotation } from "../../../ui/LanedNotation";
import { FirstAnswer } from "../answers";
import { ThumbBar } from "../ThumbBar";
import { useRecorder } from "../use-recorder";
import { useTake } from "../use-take";
import { LevelCheck } from "./LevelCheck";
import { Rate } from "./Rate";

interface Props {
  task: TaskDetail;
  player: { id: string; name: string };
  /** The line was looked at before, here or on another device. */
  seen: boolean;
  /** The look begins now. */
  look: () => void;
  sent: () => void;
  close: () => void;
}

/** A line that is read at sight: unseen until the look begins, looked at so long, played once, sent as it is. */
export function SightDesk({ task, player, seen, look, sent, close }: Props) {
  const take = useTake(task, player);
  const { stage } = take;
  const [left, setLeft] = useState<number | null>(null);
  const [rated, setRated] = useState(false);
  const plan = useMemo(
    () => playAlong(timeline(task.recordScore, { bpm: task.goalBpm })),
    [task.recordScore, task.goalBpm],
  );
  const desk = useRecorder({
    taskId: task.id,
    playerId: player.id,
    plan,
    recordPlan: plan,
    sound: task.instrumentId,
    clickOn: false,
    listen: take.follow,
    recorded: take.keep,
    refuse: take.refuse,
  });
  const playing = desk.sounding === "recording";
  const looking = left !== null;
  const before = task.history.length > 0 && task.state !== "again";
  const shown = looking || playing || stage !== "none" || before;

  const play = () => {
    setLeft(null);
    void desk.startRecording();
  };
  // The time of the look runs by the clock, not by how often the page is drawn.
  const latest = useRef(play);
  latest.current = play;
  const begin = () => {
    look();
    const until = Date.now() + 1000 * task.sight!.lookSec;
    setLeft(task.sight!.lookSec);
    timer.current = setInterval(() => {
      alive();
      const now = Math.max(0, Math.ceil((until - Date.now()) / 1000));
      setLeft((before) => (before === null ? null : now));
      if (now === 0) latest.current();
    }, 250);
  };
  const timer = useRef<ReturnType<typeof setInterval> | undefined>(undefined);
  useEffect(() => {
    if (left === null) clearInterval(timer.current);
  }, [left]);
  useEffect(() => () => clearInterval(timer.current), []);

  // It goes as it was played: there is no second one to choose from.
  const send = useRef(take.send);
  send.current = take.send;
  const mine = take.draft?.id;
  useEffect(() => {
    if (mine) void send.current();
  }, [mine]);
  const tellSent = useRef(sent);
  tellSent.current = sent;
  useEffect(() => {
    if (stage === "sent") tellSent.current();
  }, [stage]);

  return (
    <>
      <div>
        <h1 className="text-3xl leading-tight">Read it at sight</h1>
        <p className="text-base">
          {before || stage === "sent"
            ? "You have read it. It counts apart from what you practise."
            : seen && !looking && !playing
              ? "You have looked at it. Now play it once, from beginning to end."
              : `You see it for the first time. Look for ${task.sight!.lookSec} seconds, then play it once. Do not stop for a slip.`}
        </p>
      </div>
      {rated && take.answer && stage === "sent" && (
        <FirstAnswer answer={take.answer} task={task} practise={null} />
      )}
      {looking && (
        <p className="font-heading text-4xl font-bold tabular-nums" role="timer" data-testid="look-left">
          {left} s to look
        </p>
      )}
      {looking && (
        <p>Look at the key and the metre. Clap the rhythm in your head. Finger the bar that looks hard.</p>
      )}
      {shown && (
        <div className="panel p-2 sm:p-4" data-testid="music">
          <LanedNotation
            svg={task.part.svg}
            label={`${task.lineTitle}, your part for ${task.instrumentName}`}
            score={task.score}
            assessment={stage === "sent" && rated ? take.answer : null}
            inTuneCents={task.inTuneCents}
            cursorId={null}
            aheadId={null}
          />
        </div>
      )}
      {take.problem && (
        <p role="alert" className="rounded border border-felt bg-base-100 p-3 text-felt">
          {take.problem}
        </p>
      )}
      {(take.note || desk.note) && <output className="panel block p-3">{take.note || desk.note}</output>}
      {stage !== "none" && !rated && (
        <Rate
          rate={(rating) => {
            setRated(true);
            void tell(player.id, { kind: "rating", rating, taskId: task.id, seconds: takeSeconds() });
          }}
        />
      )}
      {!before && !looking && !playing && stage === "none" && <LevelCheck />}
      <ThumbBar leftHanded={task.preferences.leftHanded}>
        {playing ? (
          <button type="button" className="btn btn-error h-14 flex-1" onClick={desk.stopRecording}>
            {desk.count > 0 ? `Count ${desk.count} …` : "I am through"}
          </button>
        ) : looking ? (
          <button type="button" className="btn btn-primary h-14 flex-1" onClick={play} data-testid="main">
            I am ready: count me in
          </button>
        ) : stage === "draft" ? (
          <button type="button" className="btn btn-primary h-14 flex-1" onClick={take.send}>
            Send this take
          </button>
        ) : stage === "sending" ? (
          <p className="flex-1 self-center">Sending …</p>
        ) : stage === "sent" || before ? (
          <button type="button" className="btn btn-primary h-14 flex-1" onClick={close}>
            Back to my stand
          </button>
        ) : (
          <button
            type="button"
            className="btn btn-primary h-14 flex-1"
            onClick={seen ? play : begin}
            data-testid="main"
          >
            {seen ? "Count me in" : "Let me look"}
          </button>
        )}
      </ThumbBar>
    </>
  );
}
