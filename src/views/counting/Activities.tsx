import { useMemo, useState } from "react";
import { heardThenYours, type PlayAlong, playAlong } from "../../core/playalong";
import {
  beatsIn,
  type CountingSystem,
  checkDictation,
  type Form,
  fillTheBar,
  findTheMistake,
  formId,
  gradeOf,
  type SlotMark,
  scoreOfForms,
  seedOf,
  slotsOfTaps,
  spellForm,
  spellPiece,
  startingBeat,
  syllablesOf,
} from "../../core/rhythm";
import { timeline } from "../../core/score";
import { BeatLights } from "../../ui/BeatLights";
import { Pick } from "../../ui/Pick";
import { RhythmStaff } from "../../ui/RhythmStaff";
import { usePlayAlong } from "../../ui/use-play-along";
import { useReady } from "../../ui/use-ready";
import { DeviceDelay } from "./DeviceDelay";
import { TapField } from "./TapField";
import { TurnResult } from "./TurnResult";
import { useTurn, type Way } from "./use-turn";

const KINDS = {
  read: "read and clap",
  echo: "echo",
  dictation: "dictation",
  fill: "fill the bar",
  mistake: "find the mistake",
  start: "find the starting beat",
} as const;
type Kind = keyof typeof KINDS;

interface Props {
  forms: Form[];
  bpm: number;
  loops: number;
  system: CountingSystem;
  seed: number;
}

/** Work with one bar after another: six ways, all with click, visible beat and count-off. */
export function Activities({ forms, bpm: marked, loops, system, seed }: Props) {
  const ready = useReady();
  const [kind, setKind] = useState<Kind>("read");
  const [place, setPlace] = useState(0);
  const [bpm, setBpm] = useState(marked);
  const [way, setWay] = useState<Way>("tap");
  const [syllables, setSyllables] = useState(true);
  const form = forms[Math.min(place, forms.length - 1)];
  if (!form) return <p>There is no bar on this page.</p>;
  const go = (by: number) => setPlace((place + by + forms.length) % forms.length);
  const shared = { form, bpm, loops, way, system, syllables, seed: seedOf(form, seed), ready };
  return (
    <section className="panel flex flex-col gap-4 p-4" aria-label="Activities">
      <div className="flex flex-wrap items-end gap-3">
        <Pick label="What to do" value={kind} options={KINDS} choose={setKind} />
        {(kind === "read" || kind === "echo") && (
          <Pick
            label="With"
            value={way}
            options={{ tap: "space bar or screen", clap: "claps, by microphone" }}
            choose={setWay}
          />
        )}
        <label className="flex flex-col text-sm font-bold">
          Tempo
          <span className="flex h-10 items-center gap-2 font-normal">
            <input
              type="range"
              className="range range-sm w-32"
              min={40}
              max={160}
              value={bpm}
              onChange={(event) => setBpm(Number(event.target.value))}
              aria-valuetext={`${bpm} beats a minute`}
            />
            {bpm} bpm
          </span>
        </label>
        <label className="flex h-10 items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={syllables}
            onChange={(event) => setSyllables(event.target.checked)}
          />
          syllables ({system.name})
        </label>
      </div>
      <div className="flex flex-wrap items-center gap-3">
        <button type="button" className="btn h-11 border-base-300 bg-base-100" onClick={() => go(-1)}>
          ← Bar before
        </button>
        <p className="flex-1 text-center">
          Bar {place + 1} of {forms.length} · grade {gradeOf(form).grade}
        </p>
        <button type="button" className="btn h-11 border-base-300 bg-base-100" onClick={() => go(1)}>
          Next bar →
        </button>
      </div>
      {kind === "read" && <Clapping key={`read ${formId(form)}`} {...shared} seen />}
      {kind === "echo" && <Clapping key={`echo ${formId(form)}`} {...shared} seen={false} />}
      {kind === "dictation" && <Dictation key={formId(form)} {...shared} />}
      {kind === "fill" && <Filling key={formId(form)} {...shared} />}
      {kind === "mistake" && <Mistake key={formId(form)} {...shared} />}
      {kind === "start" && <Starting key={formId(form)} {...shared} />}
      {(kind === "read" || kind === "echo") && <DeviceDelay way={way} />}
    </section>
  );
}

interface Bar {
  form: Form;
  bpm: number;
  loops: number;
  way: Way;
  system: CountingSystem;
  syllables: boolean;
  seed: number;
  ready: boolean;
}

function useBar({ form, bpm, loops, system, syllables }: Bar) {
  return useMemo(() => {
    const score = scoreOfForms([form], { title: "", bpm, loops });
    const words = syllables
      ? new Map(syllablesOf(score.parts[0].measures, system).map(({ eventId, text }) => [eventId, text]))
      : undefined;
    return { score, line: timeline(score, { bpm }), events: score.parts[0].measures[0]!.events, words };
  }, [form, bpm, loops, system, syllables]);
}

/** The beat of a bar that sounds at a second of a plan. */
function beatAt(planSec: number, bpm: number, beats: number): number {
  return Math.floor((planSec * bpm) / 60 + 1e-6) % beats;
}

/** Read and clap, or hear and clap: judged attack by attack. */
function Clapping(bar: Bar & { seen: boolean }) {
  const { form, bpm, way, seen, ready } = bar;
  const { score, line, events, words } = useBar(bar);
  const { play, answer, problem, taps, tap, begin } = useTurn();
  const running = play.moment !== null;
  const beats = beatsIn(form.metre);
  const start = () => {
    const echo = seen ? null : heardThenYours(line);
    const plan = echo?.plan ?? playAlong(line);
    // Into a microphone only the count is sounded; the beat goes on to be seen.
    const mix = { count: true, click: way === "tap", reference: !seen, sound: "clap" };
    void begin(plan, mix, way, { score, bpm, yoursFromSec: echo?.yoursFromSec ?? plan.startSec });
  };
  const shownNow = seen || answer !== null;
  return (
    <div className="flex flex-col gap-3">
      {shownNow ? (
        <div className="overflow-x-auto">
          <RhythmStaff
            events={events}
            metre={form.metre}
            withMetre
            label={`The bar: ${events.length} signs in ${form.metre.beats}/${form.metre.beatType}`}
            cursorId={running ? (play.moment?.eventId ?? null) : null}
            {...(words ? { words } : {})}
          />
        </div>
      ) : (
        <p className="text-quiet">Listen to the bar, then clap it back. The notes are shown afterwards.</p>
      )}
      <div className="flex flex-wrap items-center gap-4">
        <button
          type="button"
          className="btn btn-primary h-12 w-32"
          disabled={!ready}
          onClick={running ? play.stop : start}
        >
          {running ? "Stop" : "Start"}
        </button>
        <BeatLights beats={beats} current={running ? beatAt(play.planSec, bpm, beats) : null} />
        <output className="text-base">
          {running &&
            (play.moment!.count > 0 ? `${play.moment!.count} …` : play.moment!.phase || "your turn")}
        </output>
      </div>
      {way === "tap" && (
        <button
          type="button"
          className="h-20 w-full rounded border-2 border-dashed border-base-300 bg-base-200 text-base text-quiet active:bg-reed"
          onPointerDown={(event) => tap(event.timeStamp)}
          disabled={!running}
        >
          {running
            ? `Tap here, or the space bar${taps > 0 ? ` · ${taps}` : ""}`
            : "Press Start, count along, then tap here or on the space bar"}
        </button>
      )}
      {problem && (
        <p role="alert" className="text-felt">
          {problem}
        </p>
      )}
      {answer && <TurnResult answer={answer} score={score} metre={form.metre} bpm={bpm} />}
    </div>
  );
}

const MARK_WORDS: Record<SlotMark, string> = {
  right: "right",
  missing: "an attack is missing",
  extra: "nothing was struck here",
  empty: "",
};

/** Hear a bar, write it: by stepping through the places, or by tapping it in time. */
function Dictation(bar: Bar) {
  const { form, bpm, ready } = bar;
  const { line, events, words } = useBar(bar);
  const play = usePlayAlong();
  const [cells, setCells] = useState<string[]>(() => Array(form.cells.length).fill("-"));
  const [checked, setChecked] = useState<ReturnType<typeof checkDictation> | null>(null);
  const [tapping, setTapping] = useState<number[] | null>(null);
  const running = play.moment !== null;
  const beats = beatsIn(form.metre);
  const slotSec = 60 / bpm / form.slotsPerBeat;
  const hear = () =>
    void play.start(playAlong(line), { count: true, click: true, reference: true, sound: "clap" });
  const toggle = (slot: number) => {
    setChecked(null);
    setCells(cells.with(slot, cells[slot] === "x" ? "-" : "x"));
  };
  const tapIn = async () => {
    const taps: number[] = [];
    setTapping(taps);
    setChecked(null);
    const plan = playAlong(line);
    const oneBar = { ...plan, totalSec: plan.startSec + form.cells.length * slotSec };
    await play.start(
      { ...oneBar, events: plan.events.filter((event) => event.atSec < oneBar.totalSec - 1e-6) },
      { count: true, click: true, reference: false },
    );
    setCells(
      [
        ...slotsOfTaps(
          taps.map((sec) => sec - plan.startSec),
          form,
          bpm,
        ),
      ].map((cell) => (cell === "x" ? "x" : "-")),
    );
    setTapping(null);
  };
  const catchTap = (time: number) => {
    const sec = play.planSecAt(time);
    if (tapping && sec !== null) tapping.push(sec);
  };
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="btn btn-primary h-12"
          disabled={!ready}
          onClick={running ? play.stop : hear}
        >
          {running ? "Stop" : "Hear the bar"}
        </button>
        <button
          type="button"
          className="btn h-12 border-base-300 bg-base-100"
          disabled={!ready || running}
          onClick={tapIn}
        >
          Write it by tapping
        </button>
        <BeatLights beats={beats} current={running ? beatAt(play.planSec, bpm, beats) : null} />
      </div>
      {tapping && <TapField words="After the count, tap the bar here or on the space bar" tap={catchTap} />}
      <fieldset className="flex flex-wrap gap-3" aria-label="Where something is struck">
        {Array.from({ length: beats }, (_, beat) => (
          <div key={beat} className="flex gap-1 rounded border border-base-300 p-1">
            {Array.from({ length: form.slotsPerBeat }, (_, sub) => {
              const slot = beat * form.slotsPerBeat + sub;
              const mark = checked?.marks[slot];
              return (
                <button
                  key={slot}
                  type="button"
                  aria-pressed={cells[slot] === "x"}
                  aria-label={`Beat ${beat + 1}, place ${sub + 1}${mark ? `, ${MARK_WORDS[mark]}` : ""}`}
                  className={`h-11 w-9 rounded border-2 text-base font-bold ${cells[slot] === "x" ? "border-primary bg-primary text-primary-content" : "border-base-300 bg-base-100"} ${mark === "missing" || mark === "extra" ? "outline outline-4 outline-felt" : ""}`}
                  onClick={() => toggle(slot)}
                >
                  {mark === "missing"
                    ? "○"
                    : mark === "extra"
                      ? "✕"
                      : cells[slot] === "x"
                        ? "●"
                        : sub === 0
                          ? beat + 1
                          : ""}
                </button>
              );
            })}
          </div>
        ))}
      </fieldset>
      <div className="flex items-center gap-3">
        <button
          type="button"
          className="btn h-11 border-base-300 bg-base-100"
          onClick={() => setChecked(checkDictation(form, cells.join("")))}
        >
          Check it
        </button>
        {checked && (
          <output className={checked.right ? "font-bold text-done" : "text-felt"}>
            {checked.right ? "That is the bar." : "Not yet: hear it again and look at the framed places."}
          </output>
        )}
      </div>
      {checked?.right && (
        <RhythmStaff
          events={events}
          metre={form.metre}
          withMetre
          label="The bar"
          {...(words ? { words } : {})}
        />
      )}
    </div>
  );
}

/** Plays something with count-off, click and the beat to be seen. */
function HearIt({
  plan,
  beats,
  bpm,
  words,
  main = false,
  ready = true,
}: {
  plan: PlayAlong;
  beats: number;
  bpm: number;
  words: string;
  /** The first thing to do here. */
  main?: boolean;
  ready?: boolean;
}) {
  const play = usePlayAlong();
  const running = play.moment !== null;
  const hear = () => void play.start(plan, { count: true, click: true, reference: true, sound: "clap" });
  return (
    <div className="flex flex-wrap items-center gap-3">
      <button
        type="button"
        className={`btn ${main ? "btn-primary h-12" : "h-11 border-base-300 bg-base-100"}`}
        disabled={!ready}
        onClick={running ? play.stop : hear}
      >
        {running ? "Stop" : words}
      </button>
      <BeatLights beats={beats} current={running ? beatAt(play.planSec, bpm, beats) : null} />
    </div>
  );
}

/** Which piece makes the bar full? */
function Filling(bar: Bar) {
  const { form, seed, bpm } = bar;
  const { line } = useBar(bar);
  const task = useMemo(() => fillTheBar(form, seed), [form, seed]);
  const [chosen, setChosen] = useState<number | null>(null);
  const piece = (cells: string, from: number) => spellPiece(form, cells, from, `p${from}e`);
  const before = form.cells.slice(0, task.from);
  const after = form.cells.slice(task.to);
  return (
    <div className="flex flex-col gap-3">
      <p>
        One piece makes this bar of {form.metre.beats}/{form.metre.beatType} full. Which?
      </p>
      <div className="flex flex-wrap items-center gap-1">
        {before && (
          <RhythmStaff
            events={piece(before, 0)}
            metre={form.metre}
            withMetre
            label="The beginning of the bar"
          />
        )}
        <span className="mx-1 flex h-14 w-20 items-center justify-center rounded border-2 border-dashed border-accent text-xl">
          ?
        </span>
        {after && (
          <RhythmStaff events={piece(after, task.to)} metre={form.metre} label="The end of the bar" />
        )}
      </div>
      <div className="flex flex-wrap gap-3">
        {task.pieces.map((cells, i) => (
          <button
            key={`${cells} ${i === task.answer}`}
            type="button"
            className={`rounded border-2 bg-base-100 p-1 ${chosen === i ? (i === task.answer ? "border-done" : "border-felt") : "border-base-300"}`}
            aria-label={`Piece ${i + 1}`}
            onClick={() => setChosen(i)}
          >
            <RhythmStaff events={piece(cells, 0)} metre={form.metre} label={`Piece ${i + 1}`} scale={0.85} />
          </button>
        ))}
      </div>
      {chosen !== null && (
        <output className={chosen === task.answer ? "font-bold text-done" : "text-felt"}>
          {chosen === task.answer
            ? "The bar is full."
            : task.pieces[chosen]!.length < task.to - task.from
              ? "Too short: the bar is not full yet."
              : "Too long: it does not fit into the bar."}
        </output>
      )}
      {chosen === task.answer && (
        <HearIt plan={playAlong(line)} beats={beatsIn(form.metre)} bpm={bpm} words="Hear the full bar" />
      )}
    </div>
  );
}

/** The bar that is printed is not the bar that is played: in which beat do they differ? */
function Mistake(bar: Bar) {
  const { form, bpm, loops, seed, ready } = bar;
  const { events, words } = useBar(bar);
  const task = useMemo(() => findTheMistake(form, seed), [form, seed]);
  const [chosen, setChosen] = useState<number | null>(null);
  const beats = beatsIn(form.metre);
  const played = timeline(scoreOfForms([task.played], { title: "", bpm, loops }), { bpm });
  return (
    <div className="flex flex-col gap-3">
      <p>What is played differs from what stands here in one beat. Which?</p>
      <div className="overflow-x-auto">
        <RhythmStaff
          events={events}
          metre={form.metre}
          withMetre
          label="The printed bar"
          {...(words ? { words } : {})}
        />
      </div>
      <HearIt plan={playAlong(played)} beats={beats} bpm={bpm} words="Hear it" main ready={ready} />
      <fieldset className="flex flex-wrap gap-2" aria-label="The beat that differs">
        {Array.from({ length: beats }, (_, beat) => (
          <button
            key={beat}
            type="button"
            className="btn h-11 border-base-300 bg-base-100"
            onClick={() => setChosen(beat)}
          >
            Beat {beat + 1}
          </button>
        ))}
      </fieldset>
      {chosen !== null && (
        <output className={chosen === task.beat ? "font-bold text-done" : "text-felt"}>
          {chosen === task.beat
            ? `Yes, beat ${chosen + 1}.`
            : `Beat ${chosen + 1} is as printed. Listen again.`}
        </output>
      )}
      {chosen === task.beat && (
        <div>
          <p className="text-sm text-quiet">This was played:</p>
          <RhythmStaff
            events={spellForm(task.played, "pl")}
            metre={form.metre}
            withMetre
            label="The played bar"
          />
        </div>
      )}
    </div>
  );
}

/** A pickup and the bar after it: the count-off runs up to where it begins. */
function pickupPlan(form: Form, pickup: string, from: number, bpm: number): PlayAlong {
  const score = scoreOfForms([form, form], { title: "", bpm, loops: 1 });
  const [first, second] = score.parts[0].measures;
  const measures = [
    { ...first!, implicit: true as const, events: spellPiece(form, pickup, from, "pu") },
    second!,
  ];
  return playAlong(timeline({ ...score, parts: [{ ...score.parts[0], measures }] }, { bpm }));
}

/** A pickup: on which count does it begin? */
function Starting({ form, seed, bpm }: Bar) {
  const task = useMemo(() => startingBeat(form, seed), [form, seed]);
  const [chosen, setChosen] = useState<number | null>(null);
  const from = form.cells.length - task.pickup.length;
  return (
    <div className="flex flex-col gap-3">
      <p>
        A line in {form.metre.beats}/{form.metre.beatType} begins with this pickup. On which count do you come
        in?
      </p>
      <RhythmStaff
        events={spellPiece(form, task.pickup, from, "pu")}
        metre={form.metre}
        withMetre
        label="The pickup"
      />
      <fieldset className="flex flex-wrap gap-2" aria-label="The count it begins on">
        {task.options.map((option, i) => (
          <button
            key={option}
            type="button"
            className="btn h-11 border-base-300 bg-base-100"
            onClick={() => setChosen(i)}
          >
            {option}
          </button>
        ))}
      </fieldset>
      {chosen !== null && (
        <output className={chosen === task.answer ? "font-bold text-done" : "text-felt"}>
          {chosen === task.answer
            ? `Yes: the count runs up to it, and you come in on ${task.options[chosen]}.`
            : "Count back from the barline: the pickup and the rest of its bar make one whole bar."}
        </output>
      )}
      {chosen === task.answer && (
        <HearIt
          plan={pickupPlan(form, task.pickup, from, bpm)}
          beats={beatsIn(form.metre)}
          bpm={bpm}
          words="Hear it counted in"
        />
      )}
    </div>
  );
}
