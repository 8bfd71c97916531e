import { useMemo, useState } from "react";
import { aloneSteps, boardRows } from "../../core/room";
import { aloneText, byOneselfText, nameList } from "../../ui/wording";
import type { Wall } from "./use-wall";

/** What somebody who stands in does now, in plain words; every step waits until they go on. */
export function AloneSteps({ wall, byOneself }: { wall: Wall; byOneself: boolean }) {
  const { block, tune, sheet, state, command, bpm, log } = wall;
  const [at, setAt] = useState({ block: state.at, step: 0 });
  const step = at.block === state.at ? at.step : 0;
  const steps = useMemo(() => {
    if (!block) return [];
    const sections =
      tune && !byOneself
        ? boardRows(tune.rows, "letters", false).map(({ instrumentIds }) => instrumentIds)
        : [];
    return aloneSteps(block.kind, tune !== null, sections);
  }, [block, tune, byOneself]);
  const now = steps[step];
  if (!block || !now) return null;
  const go = (to: number) => {
    command({ kind: "call", instruments: steps[to]?.instruments ?? null });
    if (to < steps.length) return setAt({ block: state.at, step: to });
    command({ kind: "next" });
  };
  const act = () => {
    if (state.playing !== null) return command({ kind: "stop" });
    const goal = block.bpm ?? bpm;
    command({ kind: "tempo", bpm: Math.round(goal * now.act!.share) });
    command({ kind: "way", way: now.act!.way });
    command({ kind: "play" });
  };
  const names = nameList(
    (now.instruments ?? []).map((id) => sheet.instruments.find((each) => each.id === id)?.label ?? id),
  );
  return (
    <section
      className="flex flex-wrap items-center gap-x-4 gap-y-2 border-t-4 border-accent bg-base-100 px-[2vw] py-2"
      data-testid="alone"
    >
      <p className="min-w-64 flex-1 text-xl">
        <b>
          Step {step + 1} of {steps.length}.
        </b>{" "}
        {byOneself ? byOneselfText(now, block) : aloneText(now, block, names)}
      </p>
      {!byOneself && (
        <NoteForDirector
          note={(words) => log.note({ kind: "tag", tag: words, bars: state.bars, instruments: [] }, state.at)}
        />
      )}
      {now.act && (
        <button type="button" className="btn btn-primary" onClick={act}>
          {state.playing === null ? "Play" : "Stop"}
        </button>
      )}
      <button
        type="button"
        className="btn border-base-300 bg-base-100 text-base-content"
        disabled={step === 0}
        onClick={() => go(step - 1)}
      >
        One step back
      </button>
      <button type="button" className="btn btn-primary" onClick={() => go(step + 1)}>
        {step + 1 === steps.length ? "Next block" : "Done, next step"}
      </button>
    </section>
  );
}

/** Some words for the director's log; kept at once. */
function NoteForDirector({ note }: { note: (words: string) => void }) {
  const [words, setWords] = useState("");
  return (
    <form
      className="join"
      onSubmit={(event) => {
        event.preventDefault();
        if (words.trim() === "") return;
        note(words.trim());
        setWords("");
      }}
    >
      <input
        className="input join-item w-44 border-neutral text-base"
        aria-label="A note for the director"
        placeholder="a note for the director"
        maxLength={40}
        value={words}
        onChange={({ target }) => setWords(target.value)}
      />
      <button type="submit" className="btn join-item border-base-300 bg-base-100 text-base-content">
        Note it
      </button>
    </form>
  );
}
