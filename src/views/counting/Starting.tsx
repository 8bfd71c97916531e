import { useMemo, useState } from "react";
import { type PlayAlong, playAlong } from "../../core/playalong";
import { beatsIn, type Form, scoreOfForms, spellPiece, startingBeat } from "../../core/rhythm";
import { timeline } from "../../core/score";
import { RhythmStaff } from "../../ui/RhythmStaff";
import { type Bar, HearIt } from "./bar";

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
export function Starting({ form, seed, bpm, told }: Bar) {
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
            onClick={() => {
              setChosen(i);
              told(i === task.answer ? 1 : 0, 1);
            }}
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
