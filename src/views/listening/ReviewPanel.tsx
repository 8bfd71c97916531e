import type { RefObject } from "react";
import type { Marks } from "../../core/progress";
import type { TakeDetail } from "../../services/listening/wire";
import { Problem } from "../../ui/Problem";
import { Key } from "./Key";
import { NextTake } from "./NextTake";
import { SectionGrain } from "./SectionGrain";
import type { ReviewDraft } from "./use-draft";
import { YourEar } from "./YourEar";

interface Props {
  take: TakeDetail;
  draft: ReviewDraft;
  change: (change: Partial<ReviewDraft>) => void;
  proposed: Marks;
  /** Index of the criterion that the number keys mark. */
  criterion: number;
  choose: (criterion: number) => void;
  why: string;
  ask: () => void;
  mark: (criterion: number, level: number) => void;
  advice: readonly string[];
  /** Puts a ready sentence into the comment. */
  say: (text: string) => void;
  words: RefObject<HTMLTextAreaElement | null>;
  familyField: RefObject<HTMLTextAreaElement | null>;
  /** There are words for the family, or are to be. */
  family: boolean;
  forFamily: () => void;
  tempo: RefObject<HTMLInputElement | null>;
  /** How the next take is asked for is unfolded. */
  otherwise: boolean;
  toggleOtherwise: () => void;
  /** What has to be done or said first. */
  asked: string;
  problem: string;
  busy: boolean;
  decide: (decision: "accepted" | "again") => void;
}

/** The director's word: marks, a comment, and whether the take is accepted. */
export function ReviewPanel({
  take,
  draft,
  change,
  proposed,
  criterion,
  choose,
  why,
  ask,
  mark,
  advice,
  say,
  words,
  familyField,
  family,
  forFamily,
  tempo,
  otherwise,
  toggleOtherwise,
  asked,
  problem,
  busy,
  decide,
}: Props) {
  const { comment, marks } = draft;
  const passing = take.markedBy.rubric.school === "pass";
  return (
    <section className="flex min-h-0 flex-col gap-2" aria-label="Your ear">
      <h2 className="text-xl">Your ear</h2>
      <div className="relative flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto">
        <YourEar
          markedBy={take.markedBy}
          chosen={criterion}
          {...{ marks, proposed, choose, mark, why, ask }}
        />
        <label className="flex flex-col gap-1">
          <span className="flex items-center justify-between font-bold">
            <span>To {take.playerName.split(" ")[0]}</span>
            <Key of="W" />
          </span>
          <textarea
            ref={words}
            aria-label={`To ${take.playerName.split(" ")[0]}`}
            className="textarea w-full border-neutral"
            rows={2}
            maxLength={1000}
            value={comment}
            onChange={(event) => change({ comment: event.target.value })}
            onKeyDown={(event) => event.key === "Escape" && event.currentTarget.blur()}
          />
        </label>
        {advice.length > 0 && (
          <div className="flex flex-col gap-1">
            {advice.map((text, index) => (
              <button
                key={text}
                type="button"
                aria-label={text}
                className="panel flex items-start justify-between gap-2 px-2 py-1 text-left text-sm hover:bg-reed/50"
                onClick={() => say(text)}
              >
                {text} <kbd className="key">{7 + index}</kbd>
              </button>
            ))}
          </div>
        )}
        {family ? (
          <label className="flex flex-col gap-1 text-sm">
            <b>To the family</b>
            <textarea
              ref={familyField}
              className="textarea w-full border-neutral"
              rows={2}
              maxLength={1000}
              value={draft.forFamily}
              onChange={(event) => change({ forFamily: event.target.value })}
              onKeyDown={(event) => event.key === "Escape" && event.currentTarget.blur()}
            />
          </label>
        ) : (
          <button type="button" className="self-start text-sm underline" onClick={forFamily}>
            Words for the family <Key of="F" />
          </button>
        )}
        <NextTake
          {...{ take, tempo }}
          asks={draft.asks}
          change={(asks) => change({ asks })}
          open={otherwise}
          toggle={toggleOtherwise}
        />
        {take.section.length > 0 && (
          <SectionGrain section={take.section} score={take.score} lineId={take.lineId} />
        )}
      </div>
      {asked && (
        <output className="block rounded border border-accent bg-base-100 p-2 text-sm">{asked}</output>
      )}
      <Problem text={problem} className="text-sm" />
      <div className="grid grid-cols-2 gap-2">
        <button
          type="button"
          className="btn h-11 border-base-300 bg-base-100 px-2"
          disabled={busy}
          onClick={() => decide("again")}
        >
          {passing ? "Not yet" : "Ask again"} <Key of="A" />
        </button>
        <button
          type="button"
          className="btn btn-primary h-11 px-2"
          disabled={busy}
          onClick={() => decide("accepted")}
        >
          {passing ? "Passed, next" : "Accept, next"} <kbd className="key">↵</kbd>
        </button>
      </div>
    </section>
  );
}
