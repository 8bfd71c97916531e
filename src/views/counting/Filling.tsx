import { useMemo, useState } from "react";
import { playAlong } from "../../core/playalong";
import { beatsIn, fillTheBar, spellPiece } from "../../core/rhythm";
import { RhythmStaff } from "../../ui/RhythmStaff";
import { type Bar, HearIt, useBar } from "./bar";

/** Which piece makes the bar full? */
export function Filling(bar: Bar) {
  const { form, seed, bpm, told } = bar;
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
            onClick={() => {
              setChosen(i);
              told(i === task.answer ? 1 : 0, 1);
            }}
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
