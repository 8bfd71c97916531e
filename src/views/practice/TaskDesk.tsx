import { useEffect, useMemo, useState } from "react";
import { secondsOf } from "../../client/length";
import { LONGEST_TAKE_SEC } from "../../core/listen";
import { playAlong } from "../../core/playalong";
import { timeline } from "../../core/score";
import type { TaskDetail } from "../../services/practice/wire";
import { LanedNotation } from "../../ui/LanedNotation";
import { Problem } from "../../ui/Problem";
import { HEADPHONES_CAUTION, nameList } from "../../ui/wording";
import { FirstAnswer, ReviewCard } from "./answers";
import { NoteCards } from "./NoteCards";
import { TaskBar } from "./TaskBar";
import { InstrumentChoice, Ladder, Steps, useTellDone } from "./TaskTerms";
import { TaskTools } from "./TaskTools";
import { useRecorder } from "./use-recorder";
import { useTake } from "./use-take";
import { tempoAndTimes } from "./words";

interface Props {
  task: TaskDetail;
  playerId: string;
  close: () => void;
  reload: () => void;
  /** Opens another task in its place. */
  reopen: (taskId: string) => void;
}

const LARGEST_FILE_MB = 60;

/** What of a file cannot be sent, in one sentence, before a byte of it is; nothing when it can. */
async function refusalOf(file: File): Promise<string> {
  if (file.size === 0) return `${file.name} is empty.`;
  if (file.size > LARGEST_FILE_MB * 1e6)
    return `${file.name} has ${Math.round(file.size / 1e6)} MB; the most that can be sent is ${LARGEST_FILE_MB} MB. Choose a shorter recording.`;
  const seconds = await secondsOf(file);
  if (seconds !== null && seconds > LONGEST_TAKE_SEC)
    return `${file.name} lasts ${Math.round(seconds / 60)} minutes; the bench hears at most ${LONGEST_TAKE_SEC / 60}. Choose a shorter recording.`;
  return "";
}

/** One task: the part, hear it, play it, listen back, send. */
export function TaskDesk({ task, playerId, close, reload, reopen }: Props) {
  const told = useTellDone(task, reload);
  const take = useTake(task, playerId);
  const [bpm, setBpm] = useState(task.goalBpm);
  const [clickOn, setClickOn] = useState(false);
  const canRecord = typeof navigator !== "undefined" && Boolean(navigator.mediaDevices?.getUserMedia);
  const plan = useMemo(() => playAlong(timeline(task.score, { bpm })), [task.score, bpm]);
  const recordPlan = useMemo(() => playAlong(timeline(task.recordScore, { bpm })), [task.recordScore, bpm]);
  const desk = useRecorder({
    taskId: task.id,
    playerId,
    plan,
    recordPlan,
    sound: task.counting ? "clap" : task.instrumentId,
    clickOn,
    recorded: take.keep,
    refuse: take.refuse,
  });
  const ready = take.stage === "none" && desk.sounding === "nothing";
  const heard = useMemo(() => (take.draft ? URL.createObjectURL(take.draft.sound) : ""), [take.draft]);
  useEffect(() => () => URL.revokeObjectURL(heard), [heard]);

  const chooseFile = async (file: File | undefined) => {
    if (!file) return;
    const refusal = await refusalOf(file);
    if (refusal) take.refuse(refusal);
    else await take.keep(file, []);
  };

  const last = task.history[0];
  return (
    <main className="mx-auto flex min-h-screen max-w-3xl flex-col gap-4 px-4 pb-32 pt-2">
      <TaskHead task={task} close={close} />
      {last?.review && take.stage !== "sent" && <ReviewCard take={last} words={task.criteria} />}
      {take.answer && (take.stage === "sent" || take.stage === "sending") && (
        <FirstAnswer answer={take.answer} task={task} />
      )}
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
            assessment={take.stage === "sent" ? take.answer : null}
            inTuneCents={task.inTuneCents}
            cursorId={desk.cursorId}
          />
        </div>
      )}
      {take.problem && (
        <p role="alert" className="rounded border border-felt bg-base-100 p-3 text-felt">
          {take.problem}
        </p>
      )}
      <Problem text={told.problem} />
      {take.note && <output className="panel block p-3">{take.note}</output>}
      {desk.note && <output className="panel block p-3">{desk.note}</output>}
      {task.cardsOnly && <NoteCards notes={task.cards} name={task.instrumentName} />}
      {!canRecord && !task.cardsOnly && task.record !== "nothing" && (
        <p className="panel p-3">
          This page cannot use the microphone because the address is not secure (https). Record with another
          program and send the file.
        </p>
      )}
      {ready && !task.cardsOnly && task.record !== "nothing" && (
        <p className="text-sm text-quiet">
          {nameList(task.heard.by)} {task.heard.by.length === 1 ? "hears" : "hear"} what you send; nobody else
          does.
          {task.heard.weeks !== null && ` The sound is erased after ${task.heard.weeks} weeks.`}
        </p>
      )}
      {ready && <InstrumentChoice task={task} reopen={reopen} />}
      {ready && <Steps steps={task.steps} />}
      {ready && (
        <PlaySettings goalBpm={task.goalBpm} rungs={task.rungs} {...{ bpm, setBpm, clickOn, setClickOn }} />
      )}
      {ready && <TaskTools task={task} bpm={bpm} reload={reload} />}
      {take.draft && take.stage === "draft" && (
        <section className="panel flex flex-col gap-2 p-4">
          <h2 className="text-xl">Listen back</h2>
          {/* biome-ignore lint/a11y/useMediaCaption: a student's own playing has no words */}
          <audio controls src={heard} className="w-full" />
          <p className="text-sm text-quiet">It stays on this device until the bench has it.</p>
        </section>
      )}
      {take.stage === "sending" && (
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
        stage={take.stage}
        canRecord={canRecord}
        records={!task.cardsOnly && task.record !== "nothing"}
        done={task.record === "nothing" ? { told: task.toldDone, tell: told.tell } : null}
        {...desk}
        chooseFile={chooseFile}
        again={take.drop}
        send={take.send}
        playAgain={() => take.drop().then(reload)}
        close={close}
      />
    </main>
  );
}

function TaskHead({ task, close }: { task: TaskDetail; close: () => void }) {
  return (
    <>
      <div className="flex items-center justify-between gap-3">
        <button type="button" className="btn btn-ghost -ml-2 h-11 px-2" onClick={close}>
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
          {task.counting ? "for everybody, clapped and counted" : `${task.instrumentName}, ${task.part.key}`}{" "}
          · {tempoAndTimes(task)}
        </p>
        {task.test && <p className="mt-1 font-bold text-brass">This counts as a test.</p>}
        {task.bars && <p className="mt-1 font-bold">Only {task.bars}.</p>}
        {task.recordBars && <p className="mt-1 font-bold">Practise all of it; record {task.recordBars}.</p>}
        {task.record === "nothing" && <p className="mt-1">Nothing is recorded: say when it is done.</p>}
        {task.note && <p className="mt-1">{task.note}</p>}
        {task.changedNote && <p className="mt-1 text-brass">{task.changedNote}</p>}
      </div>
    </>
  );
}

interface SettingsProps {
  goalBpm: number;
  /** Tempi of the ladder; the goal alone where there is none. */
  rungs: number[];
  bpm: number;
  setBpm: (bpm: number) => void;
  clickOn: boolean;
  setClickOn: (on: boolean) => void;
}

function PlaySettings({ goalBpm, rungs, bpm, setBpm, clickOn, setClickOn }: SettingsProps) {
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
      <label className="flex min-h-11 items-center gap-3">
        <span className="font-bold">Tempo</span>
        <input
          type="range"
          className="range range-sm w-40"
          min={Math.min(40, goalBpm)}
          max={Math.max(160, goalBpm)}
          value={bpm}
          onChange={(event) => setBpm(Number(event.target.value))}
          aria-valuetext={`${bpm} beats a minute`}
        />
        <span>{bpm} bpm</span>
      </label>
      <Ladder {...{ rungs, bpm, setBpm }} />
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
    </div>
  );
}
