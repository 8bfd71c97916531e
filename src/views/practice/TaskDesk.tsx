import { useEffect, useMemo, useRef, useState } from "react";
import { loadBank } from "../../client/bank";
import { type Playing, playPlan, type Recording, record } from "../../client/sound";
import { writeWav } from "../../core/audio";
import { momentAt, playAlong } from "../../core/playalong";
import { readForm } from "../../core/rhythm";
import { timeline } from "../../core/score";
import type { TaskDetail } from "../../services/practice/wire";
import { FingeringList } from "../../ui/Fingering";
import { LanedNotation } from "../../ui/LanedNotation";
import { noteChoices } from "../../ui/wording";
import { Activities } from "../counting/Activities";
import { PencilPanel } from "../pencil/PencilPanel";
import { RecordingPlayer } from "../pencil/RecordingPlayer";
import { Difference } from "../shelf/Difference";
import { FirstAnswer, History, ReviewCard } from "./answers";
import { useTake } from "./use-take";

interface Props {
  task: TaskDetail;
  playerId: string;
  close: () => void;
  reload: () => void;
}

const LARGEST_FILE_MB = 60;
/** A forgotten recording stops by itself, seconds: ten minutes of it still fit into one take. */
const LONGEST_RECORDING_SEC = 600;
const PLAIN = "btn h-14 flex-1 border-base-300 bg-base-100";

/** One task: the part, hear it, play it, listen back, send. */
export function TaskDesk({ task, playerId, close, reload }: Props) {
  const take = useTake(task, playerId);
  const [sounding, setSounding] = useState<"nothing" | "reference" | "recording">("nothing");
  const [bpm, setBpm] = useState(task.goalBpm);
  const [clickOn, setClickOn] = useState(false);
  const [penciled, setPenciled] = useState("");
  const [level, setLevel] = useState(0);
  const [count, setCount] = useState(0);
  const [soundNote, setSoundNote] = useState("");
  const [cursorId, setCursorId] = useState<string | null>(null);
  const playing = useRef<Playing | null>(null);
  const recording = useRef<Recording | null>(null);
  const canRecord = typeof navigator !== "undefined" && Boolean(navigator.mediaDevices?.getUserMedia);
  const ready = take.stage === "none" && sounding === "nothing";

  const plan = useMemo(() => playAlong(timeline(task.score, { bpm })), [task.score, bpm]);
  const notes = noteChoices(task.part.noteList);
  const heard = useMemo(() => (take.draft ? URL.createObjectURL(take.draft.sound) : ""), [take.draft]);
  useEffect(() => () => URL.revokeObjectURL(heard), [heard]);
  useEffect(
    () => () => {
      playing.current?.stop();
      recording.current?.cancel();
    },
    [],
  );

  /** Moves the cursor, the count and the level meter with the audio clock until the sound is over. */
  const follow = (sound: Playing) => {
    const tick = () => {
      if (playing.current !== sound) {
        setCursorId(null);
        return setCount(0);
      }
      const now = momentAt(plan, sound.planSec());
      setCursorId(now.eventId);
      setCount(now.count);
      if (recording.current) {
        setLevel(recording.current.level());
        if (recording.current.seconds() > LONGEST_RECORDING_SEC) return void stopRecording();
      }
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  };

  const hear = async () => {
    take.refuse("");
    const { bank, note } = await loadBank([task.counting ? "clap" : task.instrumentId]);
    setSoundNote(note);
    const mix = {
      count: true,
      click: true,
      reference: true,
      sound: task.counting ? "clap" : task.instrumentId,
    };
    const sound = await playPlan(plan, mix, bank);
    playing.current = sound;
    setSounding("reference");
    follow(sound);
    await sound.ended;
    if (playing.current === sound) stopHearing();
  };

  const stopHearing = () => {
    playing.current?.stop();
    playing.current = null;
    setSounding("nothing");
  };

  const startRecording = async () => {
    take.refuse("");
    try {
      recording.current = await record();
      const { bank } = await loadBank([]);
      playing.current = await playPlan(plan, { count: true, click: clickOn, reference: false }, bank);
      setSounding("recording");
      follow(playing.current);
    } catch (error) {
      recording.current?.cancel();
      recording.current = null;
      take.refuse((error as Error).message);
    }
  };

  const stopRecording = async () => {
    const running = recording.current;
    if (!running) return;
    recording.current = null;
    stopHearing();
    await take.keep(new Blob([writeWav(await running.stop())], { type: "audio/wav" }));
  };

  const chooseFile = async (file: File | undefined) => {
    if (!file) return;
    if (file.size > LARGEST_FILE_MB * 1e6)
      return take.refuse(
        `${file.name} has ${Math.round(file.size / 1e6)} MB; the most that can be sent is ${LARGEST_FILE_MB} MB. Choose a shorter recording.`,
      );
    if (file.size === 0) return take.refuse(`${file.name} is empty.`);
    await take.keep(file);
  };

  const last = task.history[0];
  return (
    <main className="mx-auto flex min-h-screen max-w-3xl flex-col gap-4 px-4 pb-32 pt-2">
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
          · goal {task.goalBpm} bpm · {task.timesPerWeek} times this week
        </p>
        {task.note && <p className="mt-1">{task.note}</p>}
      </div>
      {last?.review && take.stage !== "sent" && <ReviewCard take={last} />}
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
            cursorId={cursorId}
          />
        </div>
      )}
      {take.problem && (
        <p role="alert" className="rounded border border-felt bg-base-100 p-3 text-felt">
          {take.problem}
        </p>
      )}
      {take.note && <output className="panel block p-3">{take.note}</output>}
      {soundNote && <output className="panel block p-3">{soundNote}</output>}
      {!canRecord && (
        <p className="panel p-3">
          This page cannot use the microphone because the address is not secure (https). Record with another
          program and send the file.
        </p>
      )}
      {ready && <PlaySettings goalBpm={task.goalBpm} {...{ bpm, setBpm, clickOn, setClickOn }} />}
      {ready && task.counting && (
        <Activities
          forms={task.counting.forms.map(readForm)}
          bpm={task.goalBpm}
          loops={2}
          system={task.counting.system}
          seed={task.counting.forms.length}
        />
      )}
      {ready && task.part.newNotes.length > 0 && (
        <section>
          <h2 className="mb-2 text-xl">New notes here</h2>
          <FingeringList notes={task.part.newNotes} />
        </section>
      )}
      {ready && !task.catalogued && !task.counting && (
        <details className="panel p-4">
          <summary className="cursor-pointer text-xl font-bold">Hear the difference</summary>
          <div className="mt-3">
            <Difference score={task.score} bpm={bpm} sound={task.instrumentId} />
          </div>
        </details>
      )}
      {ready && task.recordings.length > 0 && (
        <section className="panel flex flex-col gap-3 p-4">
          <h2 className="text-xl">Play along</h2>
          {task.recordings.map((recording) => (
            <RecordingPlayer key={recording.id} recording={recording} />
          ))}
        </section>
      )}
      {ready && !task.catalogued && (
        <details className="panel p-4">
          <summary className="cursor-pointer text-xl font-bold">
            Pencil{task.pencil.length > 0 ? ` (${task.pencil.length})` : ""}
          </summary>
          <div className="mt-3">
            <PencilPanel
              lineId={task.lineId}
              notes={notes}
              chosen={penciled || notes[0]?.eventId || ""}
              choose={setPenciled}
              marks={task.pencil}
              instrument={{ id: task.instrumentId, name: task.instrumentName }}
              forDirector={false}
              changed={reload}
            />
          </div>
        </details>
      )}
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
      {ready && task.history.length > 0 && <History takes={task.history} />}
      <div className="fixed inset-x-0 bottom-0 border-t border-base-300 bg-base-200">
        <div className="mx-auto flex max-w-3xl items-stretch gap-2 px-4 py-3">
          {ready && (
            <>
              <button type="button" className={PLAIN} onClick={hear}>
                Hear it
              </button>
              {canRecord && (
                <button type="button" className="btn btn-primary h-14 flex-[2]" onClick={startRecording}>
                  Record
                </button>
              )}
              <label className={`${PLAIN} focus-within:outline-3 focus-within:outline-accent`}>
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
          {sounding === "reference" && (
            <button type="button" className="btn btn-primary h-14 flex-1" onClick={stopHearing}>
              {count > 0 ? `${count} …` : "Stop"}
            </button>
          )}
          {sounding === "recording" && (
            <button type="button" className="btn btn-error h-14 flex-1" onClick={stopRecording}>
              {count > 0 ? `Count ${count} …` : "Stop recording"}
              <meter className="ml-3 w-24" min={0} max={1} high={0.95} value={level} aria-label="Level" />
            </button>
          )}
          {take.stage === "draft" && (
            <>
              <button type="button" className={PLAIN} onClick={take.drop}>
                Once more
              </button>
              <button type="button" className="btn btn-primary h-14 flex-[2]" onClick={take.send}>
                Send this take
              </button>
            </>
          )}
          {take.stage === "sent" && (
            <>
              <button type="button" className={PLAIN} onClick={() => take.drop().then(reload)}>
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

interface SettingsProps {
  goalBpm: number;
  bpm: number;
  setBpm: (bpm: number) => void;
  clickOn: boolean;
  setClickOn: (on: boolean) => void;
}

function PlaySettings({ goalBpm, bpm, setBpm, clickOn, setClickOn }: SettingsProps) {
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
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="checkbox"
          checked={clickOn}
          onChange={(event) => setClickOn(event.target.checked)}
        />
        Click while recording (wear headphones)
      </label>
    </div>
  );
}
