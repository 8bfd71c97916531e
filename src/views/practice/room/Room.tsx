import { useEffect, useMemo, useState } from "react";
import { countActivity } from "../../../client/activity";
import { hasTakeHere } from "../../../client/outbox";
import type { Leg } from "../../../core/practice";
import type { TaskDetail } from "../../../services/practice/wire";
import { ReviewCard } from "../answers";
import { NoteCards } from "../NoteCards";
import { InstrumentChoice, TellDone } from "../TaskTerms";
import { tempoAndTimes } from "../words";
import { Asides } from "./Asides";
import { ChangeDrill } from "./ChangeDrill";
import { Finished } from "./Finished";
import { LegDesk } from "./LegDesk";
import { Partner } from "./Partner";
import { RecordStep } from "./RecordStep";
import { SightDesk } from "./SightDesk";
import { minutesLeft, Steps } from "./Steps";
import type { Carried } from "./use-leg";
import { useLine } from "./use-line";
import { useSpecial } from "./use-special";

interface Props {
  task: TaskDetail;
  player: { id: string; name: string };
  withoutInstrument: boolean;
  close: () => void;
  reload: () => void;
  /** Opens another task in its place. */
  reopen: (taskId: string) => void;
}

/** What a line that is read at sight is called among the facts: it has one step. */
const SIGHT = "sight";

/** One line and its path: one step at a time, each checked, until it can be recorded and played to somebody. */
export function Room({ task, player, withoutInstrument, close, reload, reopen }: Props) {
  useEffect(countActivity, []);
  const line = useLine(task, player.id, withoutInstrument);
  const { path, standing, now, possible, say } = line;
  const special = useSpecial(task);
  const [rings, setRings] = useState<string[]>([]);
  /** A step that is done stays open while its answer is read; a take on this device opens the step it belongs to. */
  const [held, setHeld] = useState<string | null>(null);
  const [moved, setMoved] = useState(false);
  const [carried, setCarried] = useState<Carried | null>(null);
  const leg = path.find(({ id }) => id === held) ?? path[now];
  const recording = path.find(({ step }) => step === "record")?.id ?? null;
  useEffect(() => {
    hasTakeHere(task.id, player.id).then(
      (here) => here && setHeld(recording),
      () => undefined,
    );
  }, [task.id, player.id, recording]);
  const go = (to: Leg) => {
    setMoved(true);
    special.end();
    setRings([]);
    setHeld(null);
    setCarried(null);
    void say({ kind: "went", leg: to.id });
  };
  const last = task.history[0];
  const known = useMemo(() => new Set(task.practice.facts.map(({ id }) => id)), [task]);
  const playedSec = line.facts.reduce(
    (sum, { id, seconds }) => sum + (known.has(id) ? 0 : seconds),
    task.practice.secondsToday,
  );
  const cap = task.practice.playingMinutes;
  const left = useMemo(() => minutesLeft(path, standing), [path, standing]);
  const desk = { task, playerId: player.id, line, special, rings, setRings, setCarried, close };
  const shown = held === null ? now : path.findIndex(({ id }) => id === held);
  return (
    <main className="mx-auto flex min-h-screen max-w-5xl flex-col gap-3 px-4 pb-32 pt-2">
      <div className="flex items-center justify-between gap-3">
        <button type="button" className="btn btn-ghost -ml-2 h-11 px-2" onClick={close}>
          ← My stand
        </button>
        <span className="text-sm text-quiet">
          {left > 0 && !task.sight && `about ${left} min`}
          {left > 0 && !task.sight && !task.chosen && " · "}
          {!task.chosen && `due ${task.dueLabel}`}
        </span>
      </div>
      <header>
        <p className="font-heading text-xl font-bold leading-tight">
          {task.lineNumber ? `No. ${task.lineNumber} · ` : ""}
          {task.lineTitle}
        </p>
        <p className="text-sm text-quiet">
          {task.counting ? "for everybody, clapped and counted" : `${task.instrumentName}, ${task.part.key}`}{" "}
          · {tempoAndTimes(task)}
        </p>
        {task.bars && <p className="font-bold">Only {task.bars}.</p>}
        {task.recordBars && <p className="font-bold">Record {task.recordBars}.</p>}
        {task.note && <p>{task.note}</p>}
        {task.changedNote && <p className="text-sm text-brass">{task.changedNote}</p>}
      </header>
      {!task.cardsOnly && !task.sight && <Steps {...{ path, standing, possible, go }} now={shown} />}
      {last?.review && leg?.step !== "record" && (
        <ReviewCard
          key={`review ${leg?.id}`}
          take={last}
          open={!moved}
          practise={(measure) => {
            const bar = task.score.parts[0].measures.findIndex(({ number }) => number === measure);
            if (bar >= 0) special.practiseBar(bar);
          }}
        />
      )}
      {cap !== null && playedSec >= 60 * cap && (
        <output className="panel block border-l-4 border-l-accent p-3">
          You have practised {Math.floor(playedSec / 60)} minutes today. Let your lips rest now. Counting,
          fingers and cards are fine.
        </output>
      )}
      {carried && carried.legId !== leg?.id && !special.loop && (
        <output className="block border-l-4 border-l-done pl-3 font-bold" data-testid="led-on">
          {carried.text} {leg ? "On to the next step." : ""}
        </output>
      )}
      {task.sight ? (
        <SightDesk
          task={task}
          player={player}
          seen={line.facts.some(({ leg: which }) => which === SIGHT)}
          look={() => void say({ kind: "went", leg: SIGHT })}
          sent={() => void say({ kind: "did", leg: SIGHT })}
          close={close}
        />
      ) : task.cardsOnly ? (
        <NoteCards notes={task.cards} name={task.instrumentName} />
      ) : special.together ? (
        <Partner task={task} end={special.end} practise={special.practiseBar} />
      ) : special.drill ? (
        <ChangeDrill
          key={`${special.drill.from} ${special.drill.to}`}
          task={task}
          playerId={player.id}
          drill={special.drill}
          end={special.end}
        />
      ) : leg?.step === "record" && !special.loop ? (
        <RecordStep
          task={task}
          player={player}
          sent={() => {
            setHeld(leg.id);
            void say({ kind: "did", leg: leg.id });
          }}
          close={close}
          reload={reload}
          practise={special.practiseBar}
          leftHanded={task.preferences.leftHanded}
        />
      ) : leg || special.loop ? (
        <LegDesk key={special.loop?.id ?? leg!.id} leg={leg ?? path[0]!} {...desk} />
      ) : (
        <Finished {...desk} />
      )}
      {task.record === "nothing" && !task.cardsOnly && <TellDone task={task} reload={reload} />}
      <InstrumentChoice task={task} reopen={reopen} />
      {!task.sight && <Asides {...{ task, reload }} {...special} />}
    </main>
  );
}
