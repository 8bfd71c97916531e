import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { ApiError, call } from "../../client/api";
import { CRITERIA, type Criterion, type QueueItem, type TakeDetail } from "../../services/listening/wire";
import { Notation } from "../../ui/Notation";
import { Waveform, type WaveformHandle } from "../../ui/Waveform";
import { clock, type Spot, spots, takeSentence } from "../../ui/wording";
import { proposeMarks } from "./propose";

const LEVELS = ["not yet", "partly", "mostly", "steady"];
const KEYS: [string, string][] = [
  ["Space", "play or pause"],
  ["N / P", "next or previous spot"],
  ["L", "loop the spot"],
  ["S", "slower, and back"],
  ["J / K", "next or previous take"],
  ["1 to 4", "mark the chosen criterion"],
  ["C", "next criterion"],
  ["A", "ask for another"],
  ["Enter", "accept, next"],
  ["?", "this sheet"],
];

export function ListenDesk({ queue: initial, first }: { queue: QueueItem[]; first: TakeDetail | null }) {
  const [queue, setQueue] = useState(initial);
  const [take, setTake] = useState(first);
  const [problem, setProblem] = useState("");
  const [said, setSaid] = useState("");

  const open = useCallback(async (takeId: string) => {
    setProblem("");
    try {
      setTake(await call<TakeDetail>("GET", `/api/takes/${takeId}`));
      history.replaceState(null, "", `/listen?take=${takeId}`);
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "This take could not be opened.");
    }
  }, []);

  const reviewed = async (takeId: string, next: string | null, word: string) => {
    setSaid(word);
    setQueue((all) => all.filter((item) => item.takeId !== takeId));
    if (next) await open(next);
    else setTake(null);
  };

  const step = (by: number) => {
    const at = queue.findIndex((item) => item.takeId === take?.id);
    const to = queue[at + by];
    if (to) void open(to.takeId);
  };

  return (
    <div className="grid gap-4 xl:grid-cols-[232px_1fr]">
      <aside className="panel h-fit max-h-[82vh] overflow-y-auto" aria-label="Takes that wait">
        <ol>
          {queue.map((item) => (
            <li key={item.takeId}>
              <button
                type="button"
                onClick={() => open(item.takeId)}
                aria-current={item.takeId === take?.id}
                className={`block w-full border-b border-l-4 border-b-base-300 px-3 py-2 text-left ${item.takeId === take?.id ? "border-l-accent bg-reed" : "border-l-transparent hover:bg-secondary/30"}`}
              >
                <span className="block truncate font-bold">{item.playerName}</span>
                <span className="block truncate text-sm text-quiet">
                  {item.instrumentName} · {item.lineNumber ? `No. ${item.lineNumber}` : item.lineTitle}
                </span>
                <span className="flex items-center justify-between gap-2 text-sm">
                  <span className={item.needsEar ? "font-bold text-felt" : ""}>{item.remark}</span>
                  <BarDots bars={item.bars} />
                </span>
              </button>
            </li>
          ))}
        </ol>
        {queue.length === 0 && (
          <p className="p-4">Nothing waits. Takes appear here as soon as a player sends one.</p>
        )}
      </aside>
      <div className="min-w-0">
        <output className="sr-only">{said}</output>
        {problem && (
          <p role="alert" className="mb-2 text-felt">
            {problem}
          </p>
        )}
        {take ? (
          <TakeView key={take.id} take={take} step={step} reviewed={reviewed} />
        ) : (
          <div className="panel p-6">
            <p className="font-heading text-xl font-bold">All heard</p>
            <p>
              See what changed in{" "}
              <a className="link" href="/growth">
                Growth
              </a>
              , or what is due in the{" "}
              <a className="link" href="/week">
                Week
              </a>
              .
            </p>
          </div>
        )}
      </div>
    </div>
  );
}

/** One dot a bar: empty when clean, brass when untimely, felt when notes went wrong. */
function BarDots({ bars }: { bars: QueueItem["bars"] }) {
  return (
    <svg
      width={Math.min(96, bars.length * 7)}
      height="10"
      viewBox={`0 0 ${bars.length * 7} 10`}
      aria-hidden="true"
      className="shrink-0"
    >
      {bars.map((bar, i) => (
        <circle
          key={i}
          cx={i * 7 + 3.5}
          cy="5"
          r={bar.wrong > 0 ? 3.2 : bar.untimely > 0 ? 2.4 : 1.3}
          fill={bar.wrong > 0 ? "#7A2E5D" : bar.untimely > 0 ? "#B4791B" : "#52615E"}
        />
      ))}
    </svg>
  );
}

interface TakeViewProps {
  take: TakeDetail;
  step: (by: number) => void;
  reviewed: (takeId: string, next: string | null, word: string) => Promise<void>;
}

function TakeView({ take, step, reviewed }: TakeViewProps) {
  const { assessment, score } = take;
  const wave = useRef<WaveformHandle>(null);
  const [sec, setSec] = useState(0);
  const [playing, setPlaying] = useState(false);
  const [slow, setSlow] = useState(false);
  const [soundFailed, setSoundFailed] = useState(false);
  const [spotIndex, setSpotIndex] = useState(-1);
  const [marks, setMarks] = useState<Partial<Record<Criterion, number>>>(take.review?.marks ?? {});
  const [criterion, setCriterion] = useState(0);
  const [comment, setComment] = useState(take.review?.comment ?? "");
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const [help, setHelp] = useState(false);
  const [pass, setPass] = useState(1);

  const found = useMemo(() => (assessment ? spots(assessment, score) : []), [assessment, score]);
  const proposed = useMemo(() => (assessment ? proposeMarks(assessment) : {}), [assessment]);
  const passes = useMemo(() => passCount(assessment), [assessment]);
  const lanes = useMemo(
    () => (assessment?.take.status === "assessed" ? { assessment, score, pass } : null),
    [assessment, score, pass],
  );
  const current = assessment?.notes.findLast(
    (note) => note.onset !== null && note.onset <= sec + 0.02 && (note.offset ?? 0) > sec - 0.15,
  );
  const ringed = useMemo(() => numberedMarks(found), [found]);

  const goTo = (index: number, loop: boolean) => {
    const spot = found[index];
    if (!spot) return;
    setSpotIndex(index);
    wave.current?.playFrom(Math.max(0, spot.atSec - 0.5), loop ? spot.untilSec + 0.4 : undefined);
  };

  const decide = async (decision: "accepted" | "again") => {
    if (busy) return;
    setBusy(true);
    setProblem("");
    try {
      const { next } = await call<{ next: string | null }>("PUT", `/api/takes/${take.id}/review`, {
        decision,
        comment,
        marks,
      });
      await reviewed(
        take.id,
        next,
        decision === "accepted"
          ? `${take.playerName}: accepted`
          : `${take.playerName}: asked for another take`,
      );
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
      n: () => goTo(Math.min(found.length - 1, spotIndex + 1), false),
      p: () => goTo(Math.max(0, spotIndex - 1), false),
      l: () => goTo(Math.max(0, spotIndex), true),
      s: () => {
        wave.current?.setRate(slow ? 1 : 0.6);
        setSlow(!slow);
      },
      j: () => step(1),
      k: () => step(-1),
      c: () => setCriterion((criterion + 1) % CRITERIA.length),
      a: () => void decide("again"),
      enter: () => void decide("accepted"),
      "?": () => setHelp(!help),
      escape: () => setHelp(false),
      ...Object.fromEntries(
        [1, 2, 3, 4].map((level) => [
          String(level),
          () => setMarks({ ...marks, [CRITERIA[criterion]!]: level }),
        ]),
      ),
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
          {assessment?.take.tempoBpm != null && (
            <p className="flex flex-wrap gap-2 text-sm">
              <span className="panel px-2 py-1">
                own beat {Math.round(assessment.take.tempoBpm)}, goal {take.goalBpm}
              </span>
              {assessment.take.tuningCents !== null && (
                <span className="panel px-2 py-1">
                  tuning {assessment.take.tuningCents > 0 ? "+" : "−"}
                  {Math.abs(Math.round(assessment.take.tuningCents))} ¢
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
        {assessment && assessment.take.status !== "assessed" && (
          <p className="rounded border border-felt bg-base-100 p-3 text-felt">
            {takeSentence(assessment, false)}
          </p>
        )}
        <div className="panel p-3 pt-6">
          <Notation
            svg={take.svg}
            label={`${take.lineTitle}, part for ${take.instrumentName}`}
            lanes={lanes}
            cursorId={current?.eventId ?? null}
            marks={ringed}
            onNote={(eventId) =>
              goTo(
                found.findIndex((spot) => spot.eventId === eventId),
                false,
              )
            }
          />
          {passes > 1 && (
            <div className="mt-1 flex gap-2 text-sm">
              {Array.from({ length: passes }, (_, i) => (
                <button
                  key={i}
                  type="button"
                  className={`btn btn-sm ${pass === i + 1 ? "btn-primary" : "border-base-300 bg-base-100"}`}
                  onClick={() => setPass(i + 1)}
                >
                  {["First", "Second", "Third", "Fourth"][i] ?? i + 1} time
                </button>
              ))}
            </div>
          )}
        </div>
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
        <div className="flex flex-wrap items-center gap-2">
          <button type="button" className="btn btn-primary" onClick={() => wave.current?.playPause()}>
            {playing ? "Pause" : "Play"} <kbd className="key">Space</kbd>
          </button>
          <button
            type="button"
            className="btn border-base-300 bg-base-100"
            disabled={found.length === 0}
            onClick={() => goTo(Math.min(found.length - 1, spotIndex + 1), false)}
          >
            Next spot <kbd className="key">N</kbd>
          </button>
          <button
            type="button"
            className={`btn ${slow ? "btn-secondary" : "border-base-300 bg-base-100"}`}
            aria-pressed={slow}
            onClick={() => {
              wave.current?.setRate(slow ? 1 : 0.6);
              setSlow(!slow);
            }}
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
        {help && (
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
        )}
        <SpotList
          found={found}
          chosen={spotIndex}
          goTo={goTo}
          clean={assessment?.take.status === "assessed"}
        />
      </div>
      <section className="flex flex-col gap-3" aria-label="Your ear">
        <h2 className="text-xl">Your ear</h2>
        <div className="flex flex-col gap-1">
          {CRITERIA.map((name, index) => (
            <div
              key={name}
              className={`flex items-center gap-1 rounded px-1 ${criterion === index ? "bg-reed/60" : ""}`}
              role="radiogroup"
              aria-label={name}
            >
              <span className="w-22 text-sm capitalize">{name}</span>
              {LEVELS.map((word, level) => {
                const on = marks[name] === level + 1;
                const suggested = proposed[name] === level + 1;
                return (
                  <label
                    key={word}
                    title={word}
                    className={`flex h-9 w-9 cursor-pointer items-center justify-center rounded border text-sm focus-within:outline-3 focus-within:outline-accent ${on ? "border-done bg-done font-bold text-white" : suggested ? "border-2 border-dashed border-accent bg-base-100" : "border-base-300 bg-base-100"}`}
                  >
                    <input
                      type="radio"
                      className="sr-only"
                      name={`mark-${name}`}
                      checked={on}
                      aria-label={`${name}: ${word}${suggested ? ", proposed" : ""}`}
                      onChange={() => {
                        setCriterion(index);
                        setMarks({ ...marks, [name]: level + 1 });
                      }}
                    />
                    {level + 1}
                  </label>
                );
              })}
            </div>
          ))}
        </div>
        <p className="text-sm text-quiet">
          1 not yet, 2 partly, 3 mostly, 4 steady. Dashed: what the bench would say; only what you choose is
          kept.
        </p>
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
        {found[0] && (
          <div className="flex flex-wrap gap-1">
            {snippets(found).map((text) => (
              <button
                key={text}
                type="button"
                className="btn btn-sm h-auto border-base-300 bg-base-100 py-1 text-left font-normal"
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

function SpotList({
  found,
  chosen,
  goTo,
  clean,
}: {
  found: Spot[];
  chosen: number;
  goTo: (index: number, loop: boolean) => void;
  clean: boolean;
}) {
  if (found.length === 0)
    return clean ? <p className="panel p-3">Nothing stands out: every note was found in place.</p> : null;
  return (
    <ol className="panel divide-y divide-base-300">
      {found.map((spot, index) => (
        <li
          key={`${spot.place}-${spot.atSec}-${spot.sentence}`}
          className={`flex items-center gap-3 px-3 py-2 ${chosen === index ? "bg-reed/50" : ""}`}
        >
          <span className="flex h-6 w-6 shrink-0 items-center justify-center rounded-full bg-felt text-sm font-bold text-white">
            {index + 1}
          </span>
          <button
            type="button"
            className="flex flex-1 flex-wrap gap-x-3 text-left"
            onClick={() => goTo(index, false)}
          >
            <span className="w-28 font-bold">{spot.place}</span>
            <span>{spot.sentence}</span>
          </button>
          <button
            type="button"
            className="btn btn-sm border-base-300 bg-base-100"
            onClick={() => goTo(index, true)}
            aria-label={`Loop spot ${index + 1}`}
          >
            Loop {chosen === index && <kbd className="key">L</kbd>}
          </button>
        </li>
      ))}
    </ol>
  );
}

/** Bars of the line by instrument: darker where more takes went wrong. */
function SectionGrain({ section, score }: { section: TakeDetail["section"]; score: TakeDetail["score"] }) {
  const numbers = score.parts[0].measures.map((measure) => measure.number);
  return (
    <div>
      <h3 className="font-bold">Same line, every section</h3>
      <table className="w-full table-fixed text-sm">
        <tbody>
          {section.map((row) => (
            <tr key={row.instrument}>
              <th scope="row" className="w-24 truncate text-left font-normal text-quiet">
                {row.instrument}
              </th>
              {row.bars.map((bar, i) => (
                <td
                  key={i}
                  className="p-px"
                  title={`bar ${numbers[i]}: wrong in ${bar.wrong} of ${bar.takes} takes`}
                >
                  <div
                    className="h-4 rounded-sm"
                    style={{
                      background: `rgba(122, 46, 93, ${bar.takes === 0 ? 0.04 : 0.08 + 0.8 * (bar.wrong / bar.takes)})`,
                    }}
                  >
                    <span className="sr-only">{`bar ${numbers[i]}: ${bar.wrong} of ${bar.takes}`}</span>
                  </div>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function passCount(assessment: TakeDetail["assessment"]): number {
  const counts = new Map<string, number>();
  for (const note of assessment?.notes ?? []) counts.set(note.eventId, (counts.get(note.eventId) ?? 0) + 1);
  return Math.max(1, ...counts.values());
}

function numberedMarks(found: Spot[]): { eventId: string; number: number }[] {
  const seen = new Set<string>();
  return found.flatMap((spot, index) => {
    if (!spot.eventId || seen.has(spot.eventId)) return [];
    seen.add(spot.eventId);
    return [{ eventId: spot.eventId, number: index + 1 }];
  });
}

/** Ready sentences for the comment, made from the first spots of each kind. */
function snippets(found: Spot[]): string[] {
  return found
    .slice(0, 3)
    .map(
      (spot) => `Look at ${spot.place}: ${spot.sentence.charAt(0).toLowerCase()}${spot.sentence.slice(1)}`,
    );
}
