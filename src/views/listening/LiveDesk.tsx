import { useEffect, useMemo, useRef, useState } from "react";
import type { LiveTake } from "../../client/live-tests";
import type { Recording } from "../../client/sound";
import { suggestedMarks } from "../../core/progress";
import type { LiveTest } from "../../services/listening/wire";
import { LanedNotation } from "../../ui/LanedNotation";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { clock, findings, helpfulAdvice, takeSentence } from "../../ui/wording";
import { Key } from "./Key";
import type { ReviewDraft } from "./use-draft";
import { useKeys } from "./use-keys";
import { useLive, warmUp } from "./use-live";
import { YourEar } from "./YourEar";

const NOTHING: ReviewDraft = { comment: "", marks: {}, forFamily: "", asks: null };
const MOST_TOLD = 4;

/** A group heard in class: the next name, recorded by one key, judged at once, marked, next. */
export function LiveDesk({ data }: { data: Packed<LiveTest> }) {
  const [test] = useState(() => unpacked(data));
  const live = useLive(test);
  const { player, hearing, said, waiting } = live;
  const [draft, setDraft] = useState<ReviewDraft>(NOTHING);
  const [criterion, setCriterion] = useState(0);
  const words = useRef<HTMLTextAreaElement>(null);
  useEffect(() => warmUp(test), [test]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: every player begins with nothing said
  useEffect(() => {
    setDraft(NOTHING);
    setCriterion(0);
  }, [player?.taskId]);
  const part = player && test.parts[player.part];
  const assessment = hearing.at === "heard" ? hearing.assessment : null;
  const found = useMemo(
    () => (assessment && part ? findings(assessment, part.score) : []),
    [assessment, part],
  );
  const { rubric } = test;
  const proposed = useMemo(
    () => (assessment ? suggestedMarks(rubric, assessment) : {}),
    [assessment, rubric],
  );
  const advice = helpfulAdvice(found);
  const mark = (index: number, level: number) => {
    setCriterion(index);
    if (rubric.school === "marks" && level <= rubric.levels.length)
      setDraft((now) => ({ ...now, marks: { ...now.marks, [rubric.criteria[index]!.id]: level } }));
  };
  const tell = (text: string | undefined) =>
    text && setDraft((now) => ({ ...now, comment: now.comment ? `${now.comment} ${text}` : text }));
  const say = (decision: "accepted" | "again") => void live.say(decision, draft);
  useKeys({
    " ": live.toggle,
    enter: () => say("accepted"),
    a: () => say("again"),
    n: live.next,
    w: () => words.current?.focus(),
    c: () => setCriterion((criterion + 1) % rubric.criteria.length),
    ...Object.fromEntries(["7", "8", "9"].map((key, i) => [key, () => tell(advice[i])])),
    ...Object.fromEntries([1, 2, 3, 4, 5, 6].map((level) => [String(level), () => mark(criterion, level)])),
  });
  if (!player || !part) return <p className="panel p-4">Nobody has this line on the stand.</p>;
  const passing = rubric.school === "pass";
  return (
    <div className="grid gap-4 lg:h-[calc(100vh-40px)] lg:grid-cols-[220px_1fr_264px] lg:grid-rows-[minmax(0,1fr)]">
      <aside className="panel flex min-h-0 flex-col" aria-label="Who is heard">
        <div className="border-b border-base-300 px-3 py-2">
          <h1 className="text-xl leading-tight">{test.lineTitle}</h1>
          <p className="text-sm text-quiet">
            {Object.keys(said).length} heard now · goal {test.goalBpm} bpm
          </p>
          <a className="link text-sm" href="/listen/live">
            Another line
          </a>
        </div>
        <ol className="overflow-y-auto">
          {test.players.map(({ taskId, name, instrument, state }, index) => (
            <li key={taskId}>
              <button
                type="button"
                aria-current={index === live.at}
                className={`block w-full border-b border-l-4 border-b-base-300 px-3 py-1.5 text-left -outline-offset-3 ${index === live.at ? "border-l-accent bg-reed" : "border-l-transparent hover:bg-secondary/30"}`}
                onClick={() => live.goTo(index)}
              >
                <span className="flex justify-between gap-2">
                  <span className="truncate font-bold">{name}</span>
                  <span className="shrink-0 text-sm">
                    {heardWord(said[taskId]?.decision, state, passing)}
                  </span>
                </span>
                <span className="text-sm text-quiet">{instrument}</span>
              </button>
            </li>
          ))}
        </ol>
      </aside>
      <div className="flex min-h-0 min-w-0 flex-col gap-3 overflow-y-auto">
        <div>
          <p className="text-sm text-quiet">
            {live.at + 1} of {test.players.length}
          </p>
          <h2 className="text-5xl leading-tight" data-testid="live-name">
            {player.name}
          </h2>
          <p className="text-xl">{player.instrument}</p>
        </div>
        {part.svg && (
          <div className="panel p-3">
            <LanedNotation
              svg={part.svg}
              label={`${test.lineTitle}, part for ${player.instrument}`}
              score={part.score}
              assessment={assessment}
              inTuneCents={part.inTuneCents}
              cursorId={null}
            />
          </div>
        )}
        {hearing.at === "recording" && <Running recording={hearing.recording} />}
        {hearing.at === "judging" && <output className="text-xl">The bench is listening …</output>}
        {hearing.at === "heard" && (
          <div className="flex flex-col gap-2" data-testid="live-heard">
            <Heard sound={hearing.sound} />
            {assessment && assessment.take.status !== "assessed" && (
              <p className="font-bold text-felt">{takeSentence(assessment, false, part.score)}</p>
            )}
            {assessment?.take.status === "assessed" && (
              <ul className="panel divide-y divide-base-300">
                {found.length === 0 && <li className="px-3 py-1">Nothing stands out.</li>}
                {found.slice(0, MOST_TOLD).map(({ cause, sentence, times, spots }) => (
                  <li key={cause.id} className="px-3 py-1">
                    {sentence} {times > 1 && <b>{times} times</b>}{" "}
                    <span className="text-sm text-quiet">{spots[0]!.place}</span>
                  </li>
                ))}
              </ul>
            )}
            {!assessment && <p>The bench heard nothing it could judge. Your own ear counts.</p>}
          </div>
        )}
        <Problem text={live.problem} />
        <div className="mt-auto flex flex-wrap items-center gap-2">
          <button
            type="button"
            className={`btn btn-lg ${hearing.at === "recording" ? "btn-error" : "btn-primary"}`}
            disabled={hearing.at === "judging"}
            onClick={live.toggle}
          >
            {hearing.at === "recording" ? "Stop" : hearing.at === "heard" ? "Once more" : "Record"}{" "}
            <kbd className="key">Space</kbd>
          </button>
          <button type="button" className="btn btn-lg border-base-300 bg-base-100" onClick={live.next}>
            Next without {player.name.split(" ")[0]} <Key of="N" />
          </button>
        </div>
        <Waiting
          waiting={waiting}
          again={(take) => void live.again(take)}
          drop={(id) => void live.drop(id)}
        />
      </div>
      <section className="flex min-h-0 flex-col gap-2" aria-label="Your ear">
        <h2 className="text-xl">Your ear</h2>
        <div className="flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto">
          <YourEar
            markedBy={{ rubric, lateDays: player.lateDays, late: test.late }}
            marks={draft.marks}
            proposed={proposed}
            chosen={criterion}
            choose={setCriterion}
            mark={mark}
          />
          <textarea
            ref={words}
            aria-label={`To ${player.name}`}
            placeholder={`To ${player.name.split(" ")[0]} (W)`}
            className="textarea w-full border-neutral"
            rows={2}
            maxLength={1000}
            value={draft.comment}
            onChange={(event) => setDraft((now) => ({ ...now, comment: event.target.value }))}
            onKeyDown={(event) => event.key === "Escape" && event.currentTarget.blur()}
          />
          {advice.map((text, index) => (
            <button
              key={text}
              type="button"
              className="panel flex items-start justify-between gap-2 px-2 py-1 text-left text-sm hover:bg-reed/50"
              onClick={() => tell(text)}
            >
              {text} <kbd className="key">{7 + index}</kbd>
            </button>
          ))}
        </div>
        <div className="grid grid-cols-2 gap-2">
          <button
            type="button"
            className="btn h-11 border-base-300 bg-base-100 px-2"
            disabled={hearing.at !== "heard"}
            onClick={() => say("again")}
          >
            {passing ? "Not yet" : "Ask again"} <Key of="A" />
          </button>
          <button
            type="button"
            className="btn btn-primary h-11 px-2"
            disabled={hearing.at !== "heard"}
            onClick={() => say("accepted")}
          >
            {passing ? "Passed, next" : "Accept, next"} <kbd className="key">↵</kbd>
          </button>
        </div>
      </section>
    </div>
  );
}

function heardWord(
  decision: "accepted" | "again" | undefined,
  state: LiveTest["players"][number]["state"],
  passing: boolean,
): string {
  const accepted = passing ? "passed" : "accepted";
  if (decision) return decision === "accepted" ? accepted : passing ? "not yet" : "once more";
  return state === "accepted" ? accepted : state === "sent" ? "sent one" : "";
}

function Running({ recording }: { recording: Recording }) {
  const [{ seconds, level }, setNow] = useState({ seconds: 0, level: 0 });
  useEffect(() => {
    const each = setInterval(() => setNow({ seconds: recording.seconds(), level: recording.level() }), 100);
    return () => clearInterval(each);
  }, [recording]);
  return (
    <p className="flex items-center gap-4 text-xl font-bold text-felt">
      Recording <span data-testid="live-seconds">{clock(seconds)}</span>
      <meter className="h-4 w-64" min={0} max={1} high={0.95} value={level} aria-label="Level" />
    </p>
  );
}

function Heard({ sound }: { sound: Blob }) {
  const url = useMemo(() => URL.createObjectURL(sound), [sound]);
  useEffect(() => () => URL.revokeObjectURL(url), [url]);
  // biome-ignore lint/a11y/useMediaCaption: a player's take, just recorded
  return <audio controls src={url} className="h-10 w-full" />;
}

/** What is on this device and not on the bench yet. */
function Waiting({
  waiting,
  again,
  drop,
}: {
  waiting: LiveTake[];
  again: (take: LiveTake) => void;
  drop: (id: string) => void;
}) {
  const refused = waiting.filter((take) => take.refused);
  const left = waiting.length - refused.length;
  return (
    <output className="block text-sm" data-testid="live-waiting">
      {left > 0 &&
        `${left === 1 ? "1 take is" : `${left} takes are`} on this device and ${left === 1 ? "goes" : "go"} out as soon as there is a network.`}
      {refused.map((take) => (
        <span key={take.id} className="block text-felt">
          {take.playerName}: {take.refused}{" "}
          <button type="button" className="mr-3 underline" onClick={() => again(take)}>
            Try again
          </button>
          <button type="button" className="underline" onClick={() => drop(take.id)}>
            Throw this take away
          </button>
        </span>
      ))}
    </output>
  );
}
