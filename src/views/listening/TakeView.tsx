import { useEffect, useMemo, useRef, useState } from "react";
import { ApiError, call } from "../../client/api";
import { CRITERIA, type TakeDetail } from "../../services/listening/wire";
import { LanedNotation } from "../../ui/LanedNotation";
import { Measures } from "../../ui/Measures";
import { Waveform, type WaveformHandle } from "../../ui/Waveform";
import { clock, helpfulAdvice, type Spot, spots, takeSentence } from "../../ui/wording";
import { proposeMarks } from "./propose";
import { SectionGrain } from "./SectionGrain";
import { SpotList } from "./SpotList";
import { type Marks, YourEar } from "./YourEar";

const KEYS: [string, string][] = [
  ["Space", "play or pause"],
  ["N / P", "next or previous spot"],
  ["L", "loop the spot"],
  ["S", "slower, and back"],
  ["J / K", "next or previous take"],
  ["1 to 4", "mark the shaded criterion"],
  ["C", "shade the next criterion"],
  ["A", "ask for another"],
  ["Enter", "accept, next"],
  ["U", "undo the last word"],
  ["?", "this sheet"],
];
const SLOW = 0.6;

interface Props {
  take: TakeDetail;
  step: (by: number) => void;
  reviewed: (takeId: string, next: string | null, word: string) => Promise<void>;
  undo: () => void;
}

/** One take: heard with a cursor on the notation, seen as bead lanes, marked and answered. */
export function TakeView({ take, step, reviewed, undo }: Props) {
  const { assessment, score } = take;
  const wave = useRef<WaveformHandle>(null);
  const [sec, setSec] = useState(0);
  const [playing, setPlaying] = useState(false);
  const [slow, setSlow] = useState(false);
  const [soundFailed, setSoundFailed] = useState(false);
  const [spotIndex, setSpotIndex] = useState(-1);
  const [marks, setMarks] = useState<Marks>(take.review?.marks ?? {});
  const [criterion, setCriterion] = useState(0);
  const [comment, setComment] = useState(take.review?.comment ?? "");
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const [help, setHelp] = useState(false);

  const found = useMemo(() => (assessment ? spots(assessment, score) : []), [assessment, score]);
  const proposed = useMemo(() => (assessment ? proposeMarks(assessment) : {}), [assessment]);
  const ringed = useMemo(() => numberedMarks(found), [found]);
  const advice = useMemo(() => helpfulAdvice(found), [found]);
  const current = assessment?.notes.findLast(
    (note) => note.onset !== null && note.onset <= sec + 0.02 && (note.offset ?? 0) > sec - 0.15,
  );

  const goTo = (index: number, loop: boolean) => {
    const spot = found[index];
    if (!spot) return;
    setSpotIndex(index);
    wave.current?.playFrom(Math.max(0, spot.atSec - 0.5), loop ? spot.untilSec + 0.4 : undefined);
  };
  const nextSpot = () => goTo(Math.min(found.length - 1, spotIndex + 1), false);
  const toggleSlow = () => {
    wave.current?.setRate(slow ? 1 : SLOW);
    setSlow(!slow);
  };
  const mark = (index: number, level: number) => {
    setCriterion(index);
    setMarks({ ...marks, [CRITERIA[index]!]: level });
  };

  const decide = async (decision: "accepted" | "again") => {
    if (busy) return;
    setBusy(true);
    setProblem("");
    const word = decision === "accepted" ? "accepted" : "asked for another take";
    try {
      const { next } = await call<{ next: string | null }>("PUT", `/api/takes/${take.id}/review`, {
        decision,
        comment,
        marks,
      });
      await reviewed(take.id, next, `${take.playerName}: ${word}`);
    } catch (error) {
      setProblem(
        error instanceof ApiError
          ? error.message
          : "The review could not be saved; what you wrote is still here.",
      );
      setBusy(false);
    }
  };

  useEffect(() => {
    const act: Record<string, () => void> = {
      " ": () => wave.current?.playPause(),
      n: nextSpot,
      p: () => goTo(Math.max(0, spotIndex - 1), false),
      l: () => goTo(Math.max(0, spotIndex), true),
      s: toggleSlow,
      j: () => step(1),
      k: () => step(-1),
      c: () => setCriterion((criterion + 1) % CRITERIA.length),
      a: () => void decide("again"),
      u: undo,
      enter: () => void decide("accepted"),
      "?": () => setHelp(!help),
      escape: () => setHelp(false),
      ...Object.fromEntries([1, 2, 3, 4].map((level) => [String(level), () => mark(criterion, level)])),
    };
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const types = target.matches("input:not([type=radio]), textarea, select");
      const presses =
        target.matches("button, a, summary, input[type=radio]") &&
        (event.key === " " || event.key === "Enter");
      const run = act[event.key.toLowerCase()];
      if (!run || types || presses || event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      run();
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  });

  return (
    <div className="grid gap-4 lg:grid-cols-[1fr_264px]">
      <div className="flex min-w-0 flex-col gap-3">
        <TakeHead take={take} />
        {/* The notes of a catalogued line are in the book: there is nothing to draw and no note was looked for. */}
        {!score.catalogued && (
          <div className="panel p-3 pt-6">
            <LanedNotation
              svg={take.svg}
              label={`${take.lineTitle}, part for ${take.instrumentName}`}
              score={score}
              assessment={assessment}
              cursorId={current?.eventId ?? null}
              marks={ringed}
              onNote={(eventId) =>
                goTo(
                  found.findIndex((spot) => spot.eventId === eventId),
                  false,
                )
              }
            />
          </div>
        )}
        <SpotList
          found={found}
          chosen={spotIndex}
          goTo={goTo}
          clean={assessment?.take.status === "assessed" && !score.catalogued}
        />
        <div className="sticky bottom-0 z-10 -mx-2 mt-auto flex flex-col gap-2 bg-base-200 px-2 pb-3 pt-1">
          <Waveform
            ref={wave}
            url={`/api/takes/${take.id}/sound`}
            peaks={take.peaks}
            seconds={take.seconds}
            onTime={setSec}
            onPlaying={setPlaying}
            onFailed={() => setSoundFailed(true)}
          />
          {soundFailed && (
            <p role="alert" className="text-felt">
              This recording cannot be played here.
            </p>
          )}
          {help && <KeySheet />}
          <div className="flex flex-wrap items-center gap-2">
            <button type="button" className="btn btn-primary" onClick={() => wave.current?.playPause()}>
              {playing ? "Pause" : "Play"} <kbd className="key">Space</kbd>
            </button>
            <button
              type="button"
              className="btn border-base-300 bg-base-100"
              disabled={found.length === 0}
              onClick={nextSpot}
            >
              Next spot <kbd className="key">N</kbd>
            </button>
            <button
              type="button"
              className={`btn ${slow ? "btn-secondary" : "border-base-300 bg-base-100"}`}
              aria-pressed={slow}
              onClick={toggleSlow}
            >
              Slower <kbd className="key">S</kbd>
            </button>
            <button
              type="button"
              className="btn border-base-300 bg-base-100"
              onClick={() => setHelp(!help)}
              aria-expanded={help}
            >
              Keys <kbd className="key">?</kbd>
            </button>
            <span className="ml-auto text-sm text-quiet">
              {clock(sec)} of {clock(take.seconds)}
            </span>
          </div>
        </div>
      </div>
      <section className="flex flex-col gap-3" aria-label="Your ear">
        <h2 className="text-xl">Your ear</h2>
        <YourEar marks={marks} proposed={proposed} chosen={criterion} mark={mark} />
        <label className="flex flex-col gap-1">
          <span className="font-bold">To {take.playerName.split(" ")[0]}</span>
          <textarea
            className="textarea w-full border-neutral"
            rows={4}
            maxLength={1000}
            value={comment}
            onChange={(event) => setComment(event.target.value)}
          />
        </label>
        {advice.length > 0 && (
          <div className="flex flex-col gap-1">
            {advice.map((text) => (
              <button
                key={text}
                type="button"
                className="panel px-2 py-1 text-left text-sm hover:bg-reed/50"
                onClick={() => setComment(comment ? `${comment} ${text}` : text)}
              >
                {text}
              </button>
            ))}
          </div>
        )}
        {problem && (
          <p role="alert" className="text-sm font-bold text-felt">
            {problem}
          </p>
        )}
        <div className="grid grid-cols-2 gap-2">
          <button
            type="button"
            className="btn h-14 border-base-300 bg-base-100"
            disabled={busy}
            onClick={() => decide("again")}
          >
            Ask again <kbd className="key">A</kbd>
          </button>
          <button
            type="button"
            className="btn btn-primary h-14"
            disabled={busy}
            onClick={() => decide("accepted")}
          >
            Accept, next <kbd className="key">↵</kbd>
          </button>
        </div>
        {take.section.length > 0 && <SectionGrain section={take.section} score={score} />}
      </section>
    </div>
  );
}

function TakeHead({ take }: { take: TakeDetail }) {
  const { assessment } = take;
  const tempo = assessment?.take.tempoBpm ?? null;
  const tuning = assessment?.take.tuningCents ?? null;
  return (
    <>
      <div className="flex flex-wrap items-end justify-between gap-2">
        <div>
          <p className="text-sm text-quiet">
            {take.lineNumber ? `No. ${take.lineNumber} · ` : ""}
            {take.lineTitle} · take {take.takeNumber} of {take.takeCount}
          </p>
          <h2 className="text-3xl leading-tight">
            {take.playerName}, {take.instrumentName}
          </h2>
        </div>
        {tempo !== null && (
          <p className="flex flex-wrap gap-2 text-sm">
            <span className="panel px-2 py-1">
              own beat {Math.round(tempo)}, goal {take.goalBpm}
            </span>
            {tuning !== null && (
              <span className="panel px-2 py-1">
                tuning {tuning > 0 ? "+" : "−"}
                {Math.abs(Math.round(tuning))} ¢
              </span>
            )}
          </p>
        )}
      </div>
      {take.state === "unreadable" && (
        <p role="alert" className="rounded border border-felt bg-base-100 p-3 text-felt">
          {take.problem}
        </p>
      )}
      {take.state === "waiting" && (
        <p className="panel p-3">
          The bench is still listening to this take. You can hear it now; the beads come in a moment.
        </p>
      )}
      {assessment?.byEar && <p className="panel p-3">{takeSentence(assessment, false)}</p>}
      {assessment && <Measures score={take.score} assessment={assessment} goalBpm={take.goalBpm} />}
      {assessment && assessment.take.status !== "assessed" && (
        <p className="rounded border border-felt bg-base-100 p-3 text-felt">
          {takeSentence(assessment, false)}
        </p>
      )}
    </>
  );
}

function KeySheet() {
  return (
    <dl className="panel grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 p-3 text-sm sm:grid-cols-[auto_1fr_auto_1fr]">
      {KEYS.map(([name, meaning]) => (
        <div key={name} className="contents">
          <dt>
            <kbd className="key">{name}</kbd>
          </dt>
          <dd>{meaning}</dd>
        </div>
      ))}
    </dl>
  );
}

function numberedMarks(found: readonly Spot[]): { eventId: string; number: number }[] {
  const seen = new Set<string>();
  return found.flatMap((spot, index) => {
    if (!spot.eventId || seen.has(spot.eventId)) return [];
    seen.add(spot.eventId);
    return [{ eventId: spot.eventId, number: index + 1 }];
  });
}
