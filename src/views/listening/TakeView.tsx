import { useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { call } from "../../client/api";
import { type CauseKind, heardIn, suggestedMarks } from "../../core/progress";
import type { TakeDetail } from "../../services/listening/wire";
import { LanedNotation } from "../../ui/LanedNotation";
import { Problem } from "../../ui/Problem";
import { QuestionAnswer } from "../../ui/QuestionAnswer";
import { useCall } from "../../ui/use-call";
import {
  type Finding,
  familyWords,
  helpfulAdvice,
  type Spot,
  strokesOnly,
  whySentence,
} from "../../ui/wording";
import { BesideRow } from "./BesideRow";
import { FindingList } from "./FindingList";
import { Pins } from "./Pins";
import { ReviewPanel } from "./ReviewPanel";
import { TakeHead } from "./TakeHead";
import { Transport } from "./Transport";
import { useBeside } from "./use-beside";
import { keepReviewDraft, type ReviewDraft, useReviewDraft } from "./use-draft";
import { useKeys } from "./use-keys";
import { useListening } from "./use-listening";
import { useOverrules } from "./use-overrules";
import { WhatHelps } from "./WhatHelps";

interface Props {
  take: TakeDetail;
  /** Kinds in which the bench was too often wrong. */
  distrusted: readonly CauseKind[];
  /** Opened on the desk, not with the page. */
  focused: boolean;
  open: (takeId: string) => void;
  /** It belongs to another task now. */
  moved: () => void;
  reviewed: (take: TakeDetail, word: string, draft: ReviewDraft) => Promise<void>;
}

/** One take: heard with a cursor on the notation, seen as bead lanes, marked and answered. */
export function TakeView({ take, distrusted, focused, open, moved, reviewed }: Props) {
  const { score } = take;
  const overruling = useOverrules(take, distrusted);
  const { shown, found, dropped, setAside } = overruling;
  const listening = useListening(take, shown, found);
  const { met, failed, goTo, chosen } = listening;
  const beside = useBeside(take, listening.wave, listening.playing);
  const [criterion, setCriterion] = useState(0);
  const [why, setWhy] = useState("");
  const [help, setHelp] = useState(false);
  /** How the next take is asked for is unfolded. */
  const [otherwise, setOtherwise] = useState(take.asks !== null);
  const tempo = useRef<HTMLInputElement>(null);
  const familyField = useRef<HTMLTextAreaElement>(null);
  const [family, setFamily] = useState(false);
  /** The remedies of the open finding are unfolded. */
  const [helping, setHelping] = useState(false);
  const [pins, setPins] = useState(take.pins);
  const [questions, setQuestions] = useState(take.questions);
  /** What was said before a word on the take is taken. */
  const [asked, setAsked] = useState<{ before: "accepted" | "again"; text: string } | null>(null);
  const words = useRef<HTMLTextAreaElement>(null);
  const markWords = useRef<HTMLInputElement>(null);
  const { draft, change } = useReviewDraft(take);
  const { busy, problem, run } = useCall();

  const { rubric } = take.markedBy;
  const { criteria } = rubric;
  const proposed = useMemo(() => (shown ? suggestedMarks(rubric, shown) : {}), [shown, rubric]);
  const ringed = useMemo(() => numberedMarks(found), [found]);
  const advice = useMemo(() => helpfulAdvice(found), [found]);

  const say = (text: string | undefined) =>
    text && change({ comment: draft.comment ? `${draft.comment} ${text}` : text });
  /** Nothing is accepted unheard, and nobody is asked again without a reason: asked for once, then done. */
  const mayDecide = (decision: "accepted" | "again"): boolean => {
    if (decision === "accepted" && take.hearFirst && !met && !failed) {
      setAsked({ before: decision, text: "Hear it first: it plays now. Press once more to accept." });
      if (found.length > 0) listening.next();
      else listening.playPause();
      return false;
    }
    const reasons = draft.comment.trim() !== "" || draft.asks !== null || pins.length > 0;
    if (decision === "again" && !reasons && asked?.before !== decision) {
      setAsked({
        before: decision,
        text: "Say in a word what to do better. Without a reason: Escape, then A once more.",
      });
      words.current?.focus();
      return false;
    }
    return true;
  };
  const choose = (index: number) => {
    setCriterion(index);
    setWhy("");
  };
  const mark = (index: number, level: number) => {
    choose(index);
    if (rubric.school === "marks" && level <= rubric.levels.length)
      change({ marks: { ...draft.marks, [criteria[index]!.id]: level } });
  };
  /** What the bench heard for the shaded criterion: said, and heard from its first place on. */
  const ask = () => {
    const { id, hears } = criteria[criterion]!;
    const evidence = hears ? found.filter(({ cause }) => heardIn(cause.kind) === hears) : [];
    const level = proposed[id];
    setWhy(whySentence(hears && level ? rubric.levels[level - 1]! : null, evidence));
    goTo(evidence[0]?.spots[0], false);
  };
  /** Opens the words for the family; the first time with a sentence about what comes first. */
  const forFamily = () => {
    if (draft.forFamily === "") change({ forFamily: familyWords(take.playerName, found) });
    // What is typed next goes into the words: a letter pressed before they are there would be an act.
    flushSync(() => setFamily(true));
    familyField.current?.focus();
  };
  /** A finding that is open is not so; a note that was chosen and is told nothing of was heard wrong. */
  const overrule = () => {
    const { finding, clicked } = listening;
    if (finding?.cause.kind === "heard-wrong")
      overruling.toggle({ about: "note", noteIndex: listening.spot!.noteIndex!, word: "wrong" });
    else if (finding) overruling.toggle({ about: "cause", causeId: finding.cause.id });
    else if (clicked !== null) overruling.toggle({ about: "note", noteIndex: clicked, word: "wrong" });
  };

  // The word is under way until the next take is there: a second press in between says nothing of this one.
  const decide = (decision: "accepted" | "again") =>
    mayDecide(decision) &&
    run(async () => {
      await call("PUT", `/api/takes/${take.id}/review`, {
        decision,
        ...draft,
        asks: decision === "again" ? draft.asks : null,
      });
      keepReviewDraft(take.id, null);
      const passed = rubric.school === "pass" ? "passed" : "accepted";
      const word = decision === "accepted" ? passed : "asked for another take";
      await reviewed(take, `${take.playerName}: ${word}`, draft);
    }, "The review could not be saved; what you wrote is still here.");

  useKeys({
    " ": listening.playPause,
    n: listening.next,
    p: listening.previous,
    l: listening.loop,
    s: listening.toggleSlow,
    w: () => words.current?.focus(),
    f: forFamily,
    t: () => {
      flushSync(() => setOtherwise(true));
      tempo.current?.focus();
    },
    m: () => markWords.current?.focus(),
    h: () => setHelping(!helping),
    b: beside.flip,
    r: beside.takeTurns,
    o: overrule,
    x: () => take.assessment && overruling.toggle({ about: "take" }),
    ...Object.fromEntries(["7", "8", "9"].map((key, i) => [key, () => say(advice[i])])),
    c: () => choose((criterion + 1) % criteria.length),
    e: ask,
    a: () => void decide("again"),
    enter: () => void decide("accepted"),
    "?": () => setHelp(!help),
    escape: () => setHelp(false),
    ...Object.fromEntries([1, 2, 3, 4, 5, 6].map((level) => [String(level), () => mark(criterion, level)])),
  });

  return (
    <div className="grid min-h-0 flex-1 gap-4 lg:grid-cols-[1fr_264px] lg:grid-rows-[minmax(0,1fr)]">
      <div className="flex min-h-0 min-w-0 flex-col gap-2">
        <div className="relative flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto pr-1">
          <TakeHead
            take={take}
            open={open}
            focused={focused}
            setAside={setAside}
            playFrom={listening.playAt}
            moved={moved}
            putBack={() => overruling.toggle({ about: "take" })}
          />
          {/* The notes of a catalogued line are in the book: there is nothing to draw and no note was looked for. */}
          {!score.catalogued && (
            <div className="panel p-3 pb-0 pt-6">
              <LanedNotation
                svg={take.svg}
                label={`${take.lineTitle}, part for ${take.instrumentName}`}
                score={score}
                assessment={shown}
                inTuneCents={take.inTuneCents}
                cursorId={listening.cursorId}
                marks={ringed}
                onNote={listening.fromNote}
                pick={listening.fromNote}
              />
            </div>
          )}
          <FindingList
            found={found}
            dropped={dropped}
            chosen={listening.spot}
            goTo={goTo}
            help={
              helping && listening.finding ? (
                <WhatHelps take={take} finding={listening.finding} say={say} />
              ) : null
            }
            distrusted={distrusted}
            toggleHelp={() => setHelping(!helping)}
            overrule={({ cause, spots }) =>
              overruling.toggle(
                cause.kind === "heard-wrong"
                  ? { about: "note", noteIndex: spots[0]!.noteIndex!, word: "wrong" }
                  : { about: "cause", causeId: cause.id },
              )
            }
            clean={
              shown?.take.status !== "assessed" || score.catalogued
                ? null
                : strokesOnly(score)
                  ? "stroke"
                  : "note"
            }
          />
          <Problem text={overruling.problem} />
          {questions.length > 0 && (
            <ul className="panel px-3" aria-label="Asked about this line">
              {questions.map((question) => (
                <QuestionAnswer
                  key={question.id}
                  question={question}
                  answered={() => setQuestions((all) => all.filter(({ id }) => id !== question.id))}
                />
              ))}
            </ul>
          )}
          {!score.catalogued && (
            <Pins
              take={take}
              pins={pins}
              change={setPins}
              at={chosen ?? null}
              words={markWords}
              play={listening.fromNote}
            />
          )}
        </div>
        <Transport
          listening={listening}
          beside={score.catalogued ? null : <BesideRow take={take} beside={beside} />}
          seconds={take.seconds}
          findings={found.length}
          help={help}
          toggleHelp={() => setHelp(!help)}
        />
      </div>
      <ReviewPanel
        {...{ take, draft, change, proposed, criterion, choose, mark, why, ask, advice, say, words }}
        asked={asked?.text ?? ""}
        {...{ familyField, forFamily, family: family || draft.forFamily !== "" }}
        {...{ tempo, otherwise, toggleOtherwise: () => setOtherwise(!otherwise) }}
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
