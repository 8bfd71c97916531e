import { useMemo, useState } from "react";
import { playAlong } from "../../core/playalong";
import { beatsIn, findTheMistake, scoreOfForms, spellForm } from "../../core/rhythm";
import { timeline } from "../../core/score";
import { RhythmStaff } from "../../ui/RhythmStaff";
import { type Bar, HearIt, useBar } from "./bar";

/** The bar that is printed is not the bar that is played: in which beat do they differ? */
export function Mistake(bar: Bar) {
  const { form, bpm, loops, seed, ready, told } = bar;
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
            onClick={() => {
              setChosen(beat);
              told(beat === task.beat ? 1 : 0, 1);
            }}
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
