import { useEffect, useMemo, useRef, useState } from "react";
import { takeSeconds } from "../../../client/activity";
import { refusalOf } from "../../../client/length";
import { tell } from "../../../client/practice-log";
import { playAlong } from "../../../core/playalong";
import { timeline } from "../../../core/score";
import type { TaskDetail } from "../../../services/practice/wire";
import { LanedNotation } from "../../../ui/LanedNotation";
import { HEADPHONES_CAUTION, nameList } from "../../../ui/wording";
import { FirstAnswer } from "../answers";
import { TaskBar } from "../TaskBar";
import { useRecorder } from "../use-recorder";
import { useTake } from "../use-take";
import { LevelCheck } from "./LevelCheck";
import { Rate } from "./Rate";

interface Props {
  task: TaskDetail;
  player: { id: string; name: string };
  /** A take was sent. */
  sent: () => void;
  close: () => void;
  reload: () => void;
  /** A bar that went wrong is to be practised; by index. */
  practise: (bar: number) => void;
  leftHanded: boolean;
}

/** One take: counted off, listened back to, judged by its player first, sent, and answered. */
export function RecordStep({ task, player, sent, close, reload, practise, leftHanded }: Props) {
  const take = useTake(task, player);
  const [clickOn, setClickOn] = useState(false);
  const [rated, setRated] = useState<number | null>(null);
  const canRecord = typeof navigator !== "undefined" && Boolean(navigator.mediaDevices?.getUserMedia);
  const bpm = task.goalBpm;
  const plan = useMemo(() => playAlong(timeline(task.score, { bpm })), [task.score, bpm]);
  const recordPlan = useMemo(() => playAlong(timeline(task.recordScore, { bpm })), [task.recordScore, bpm]);
  const desk = useRecorder({
    taskId: task.id,
    playerId: player.id,
    plan,
    recordPlan,
    sound: task.counting ? "clap" : task.instrumentId,
    clickOn,
    listen: take.follow,
    recorded: take.keep,
    refuse: take.refuse,
  });
  const ready = take.stage === "none" && desk.sounding === "nothing";
  const heard = useMemo(() => (take.draft ? URL.createObjectURL(take.draft.sound) : ""), [take.draft]);
  useEffect(() => () => URL.revokeObjectURL(heard), [heard]);
  const { stage } = take;
  // Told once a take, however often the page is drawn meanwhile.
  const tellSent = useRef(sent);
  tellSent.current = sent;
  useEffect(() => {
    if (stage === "sent") tellSent.current();
  }, [stage]);

  const chooseFile = async (file: File | undefined) => {
    if (!file) return;
    const refusal = await refusalOf(file);
    if (refusal) take.refuse(refusal);
    else await take.keep(file, []);
  };
  const rate = (rating: 1 | 2 | 3) => {
    setRated(rating);
    void tell(player.id, { kind: "rating", rating, taskId: task.id, seconds: takeSeconds() });
  };
  const answered = take.answer && (stage === "sent" || stage === "sending");
  return (
    <>
      <h1 className="text-3xl leading-tight">Record it</h1>
      {answered && rated !== null && <FirstAnswer answer={take.answer!} task={task} practise={practise} />}
      {task.catalogued ? (
        <p className="panel p-4 text-base">
          Play it from your book{task.page ? `, page ${task.page}` : ""}
          {task.lineNumber ? `, No. ${task.lineNumber}` : ""}. The bench hears your beat, your loudness and
          your tuning; your director hears the notes.
        </p>
      ) : (
        <div className="panel p-2 sm:p-4">
          <LanedNotation
            svg={task.part.svg}
            label={`${task.lineTitle}, your part for ${task.instrumentName}`}
            score={task.score}
            assessment={stage === "sent" && rated !== null ? take.answer : null}
            inTuneCents={task.inTuneCents}
            cursorId={desk.cursorId}
            aheadId={desk.aheadId}
          />
        </div>
      )}
      {take.problem && (
        <p role="alert" className="rounded border border-felt bg-base-100 p-3 text-felt">
          {take.problem}
        </p>
      )}
      {take.note && <output className="panel block p-3">{take.note}</output>}
      {desk.note && <output className="panel block p-3">{desk.note}</output>}
      {!canRecord && (
        <p className="panel p-3">
          This page cannot use the microphone because the address is not secure (https). Record with another
          program and send the file.
        </p>
      )}
      {stage !== "none" && rated === null && <Rate rate={rate} />}
      {ready && canRecord && <LevelCheck />}
      {ready && (
        <div className="flex flex-wrap items-center gap-x-6 gap-y-1">
          <label className="flex min-h-11 items-center gap-3">
            <input
              type="checkbox"
              className="checkbox"
              checked={clickOn}
              onChange={(event) => setClickOn(event.target.checked)}
            />
            Click while recording (wear headphones)
          </label>
          {clickOn && <p className="text-sm text-brass">{HEADPHONES_CAUTION}</p>}
          <p className="text-sm text-quiet">
            {nameList(task.heard.by)} {task.heard.by.length === 1 ? "hears" : "hear"} what you send; nobody
            else does.
            {task.heard.weeks !== null && ` The sound is erased after ${task.heard.weeks} weeks.`}
          </p>
        </div>
      )}
      {take.draft && stage === "draft" && (
        <section className="panel flex flex-col gap-2 p-4">
          <h2 className="text-xl">Listen back</h2>
          {/* biome-ignore lint/a11y/useMediaCaption: a student's own playing has no words */}
          <audio controls src={heard} className="w-full" />
          <p className="text-sm text-quiet">It stays on this device until the bench has it.</p>
        </section>
      )}
      {stage === "sending" && (
        <div className="panel p-4">
          <p className="font-bold">Sending …</p>
          <progress
            className="progress progress-success mt-2 w-full"
            value={take.progress}
            max={1}
            aria-label="Share sent"
          />
        </div>
      )}
      <TaskBar
        stage={stage}
        canRecord={canRecord}
        leftHanded={leftHanded}
        {...desk}
        chooseFile={chooseFile}
        again={() => {
          setRated(null);
          return take.drop();
        }}
        send={take.send}
        playAgain={() => {
          setRated(null);
          return take.drop().then(reload);
        }}
        close={close}
      />
    </>
  );
}
