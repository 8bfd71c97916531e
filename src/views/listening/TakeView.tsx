import { useMemo, useRef, useState } from "react";
import { call } from "../../client/api";
import { CRITERIA, proposeMarks } from "../../core/progress";
import type { TakeDetail } from "../../services/listening/wire";
import { LanedNotation } from "../../ui/LanedNotation";
import { useCall } from "../../ui/use-call";
import { Waveform, type WaveformHandle } from "../../ui/Waveform";
import { clock, type Finding, findings, helpfulAdvice, type Spot, strokesOnly } from "../../ui/wording";
import { FindingList } from "./FindingList";
import { KeySheet } from "./KeySheet";
import { ReviewPanel } from "./ReviewPanel";
import { TakeHead } from "./TakeHead";
import { keepReviewDraft, type ReviewDraft, useReviewDraft } from "./use-draft";
import { useKeys } from "./use-keys";

const SLOW = 0.6;
/** A finding is heard from so long before it, seconds. */
const LEAD_SEC = 1;

interface Props {
  take: TakeDetail;
  /** Opened on the desk, not with the page. */
  focused: boolean;
  open: (takeId: string) => void;
  reviewed: (take: TakeDetail, next: string | null, word: string, draft: ReviewDraft) => Promise<void>;
}

/** One take: heard with a cursor on the notation, seen as bead lanes, marked and answered. */
export function TakeView({ take, focused, open, reviewed }: Props) {
  const { assessment, score } = take;
  const wave = useRef<WaveformHandle>(null);
  const [sec, setSec] = useState(0);
  const [playing, setPlaying] = useState(false);
  const [slow, setSlow] = useState(false);
  const [soundFailed, setSoundFailed] = useState(false);
  const [spotIndex, setSpotIndex] = useState(-1);
  const [criterion, setCriterion] = useState(0);
  const [help, setHelp] = useState(false);
  /** It was heard, or one of its findings was looked at. */
  const [met, setMet] = useState(false);
  /** What was said before a word on the take is taken. */
  const [asked, setAsked] = useState<{ before: "accepted" | "again"; text: string } | null>(null);
  const words = useRef<HTMLTextAreaElement>(null);
  const { draft, change } = useReviewDraft(take);
  const { busy, problem, run } = useCall();

  const found = useMemo(() => (assessment ? findings(assessment, score) : []), [assessment, score]);
  /** Every place, finding by finding. */
  const places = useMemo(() => found.flatMap(({ spots }) => spots), [found]);
  const criteria = useMemo(
    () => CRITERIA.filter((name) => take.marked?.some(({ criterion: marked }) => marked === name) ?? true),
    [take.marked],
  );
  const proposed = useMemo(() => (assessment ? proposeMarks(assessment) : {}), [assessment]);
  const ringed = useMemo(() => numberedMarks(found), [found]);
  const advice = useMemo(() => helpfulAdvice(found), [found]);
  const current = assessment?.notes.findLast(
    (note) => note.onset !== null && note.onset <= sec + 0.02 && (note.offset ?? 0) > sec - 0.15,
  );

  const goTo = (index: number, loop: boolean) => {
    const spot = places[index];
    if (!spot) return;
    setSpotIndex(index);
    setMet(true);
    wave.current?.playFrom(Math.max(0, spot.atSec - LEAD_SEC), loop ? spot.untilSec + 0.4 : undefined);
  };
  const nextSpot = () => goTo(Math.min(places.length - 1, spotIndex + 1), false);
  const playPause = () => {
    setMet(true);
    wave.current?.playPause();
  };
  const say = (text: string | undefined) =>
    text && change({ comment: draft.comment ? `${draft.comment} ${text}` : text });
  /** Nothing is accepted unheard, and nobody is asked again without a reason: asked for once, then done. */
  const mayDecide = (decision: "accepted" | "again"): boolean => {
    if (decision === "accepted" && take.hearFirst && !met && !soundFailed) {
      setAsked({ before: decision, text: "Hear it first: it plays now. Press once more to accept." });
      if (places.length > 0) nextSpot();
      else playPause();
      return false;
    }
    if (decision === "again" && draft.comment.trim() === "" && asked?.before !== decision) {
      setAsked({
        before: decision,
        text: "Say in a word what to do better. Without a reason: Escape, then A once more.",
      });
      words.current?.focus();
      return false;
    }
    return true;
  };
  const toggleSlow = () => {
    wave.current?.setRate(slow ? 1 : SLOW);
    setSlow(!slow);
  };
  const mark = (index: number, level: number) => {
    setCriterion(index);
    change({ marks: { ...draft.marks, [criteria[index]!]: level } });
  };

  // The word is under way until the next take is there: a second press in between says nothing of this one.
  const decide = (decision: "accepted" | "again") =>
    mayDecide(decision) &&
    run(async () => {
      const { next } = await call<{ next: string | null }>("PUT", `/api/takes/${take.id}/review`, {
        decision,
        ...draft,
      });
      keepReviewDraft(take.id, null);
      const word = decision === "accepted" ? "accepted" : "asked for another take";
      await reviewed(take, next, `${take.playerName}: ${word}`, draft);
    }, "The review could not be saved; what you wrote is still here.");

  useKeys({
    " ": playPause,
    n: nextSpot,
    p: () => goTo(Math.max(0, spotIndex - 1), false),
    l: () => goTo(Math.max(0, spotIndex), true),
    s: toggleSlow,
    w: () => words.current?.focus(),
    ...Object.fromEntries(["7", "8", "9"].map((key, i) => [key, () => say(advice[i])])),
    c: () => setCriterion((criterion + 1) % criteria.length),
    a: () => void decide("again"),
    enter: () => void decide("accepted"),
    "?": () => setHelp(!help),
    escape: () => setHelp(false),
    ...Object.fromEntries([1, 2, 3, 4].map((level) => [String(level), () => mark(criterion, level)])),
  });

  return (
    <div className="grid gap-4 lg:grid-cols-[1fr_264px]">
      <div className="flex min-w-0 flex-col gap-3">
        <TakeHead take={take} open={open} focused={focused} />
        {/* The notes of a catalogued line are in the book: there is nothing to draw and no note was looked for. */}
        {!score.catalogued && (
          <div className="panel p-3 pt-6">
            <LanedNotation
              svg={take.svg}
              label={`${take.lineTitle}, part for ${take.instrumentName}`}
              score={score}
              assessment={assessment}
              inTuneCents={take.inTuneCents}
              cursorId={current?.eventId ?? null}
              marks={ringed}
              onNote={(eventId) =>
                goTo(
                  places.findIndex((spot) => spot.eventId === eventId),
                  false,
                )
              }
            />
          </div>
        )}
        <FindingList
          found={found}
          chosen={places[spotIndex]}
          goTo={(spot, loop) => goTo(places.indexOf(spot), loop)}
          clean={
            assessment?.take.status !== "assessed" || score.catalogued
              ? null
              : strokesOnly(score)
                ? "stroke"
                : "note"
          }
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
            <button type="button" className="btn btn-primary" onClick={playPause}>
              {playing ? "Pause" : "Play"} <kbd className="key">Space</kbd>
            </button>
            <button
              type="button"
              className="btn border-base-300 bg-base-100"
              disabled={found.length === 0}
              onClick={nextSpot}
            >
              Next finding <kbd className="key">N</kbd>
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
      <ReviewPanel
        {...{ take, draft, change, proposed, criteria, criterion, mark, advice, say, words }}
        asked={asked?.text ?? ""}
        {...{ problem, busy, decide }}
      />
    </div>
  );
}

/** Notes of a finding carry its number. */
function numberedMarks(found: readonly Finding[]): { eventId: string; number: number }[] {
  const seen = new Set<string>();
  return found.flatMap(({ spots }, index) =>
    spots.flatMap(({ eventId }: Spot) => {
      if (!eventId || seen.has(eventId)) return [];
      seen.add(eventId);
      return [{ eventId, number: index + 1 }];
    }),
  );
}
