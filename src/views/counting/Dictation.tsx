import { useState } from "react";
import { playAlong } from "../../core/playalong";
import { beatsIn, checkDictation, type SlotMark, slotsOfTaps } from "../../core/rhythm";
import { BeatLights } from "../../ui/BeatLights";
import { RhythmStaff } from "../../ui/RhythmStaff";
import { usePlayAlong } from "../../ui/use-play-along";
import { type Bar, beatAt, useBar } from "./bar";
import { TapField } from "./TapField";

const MARK_WORDS: Record<SlotMark, string> = {
  right: "right",
  missing: "an attack is missing",
  extra: "nothing was struck here",
  empty: "",
};

/** Hear a bar, write it: by stepping through the places, or by tapping it in time. */
export function Dictation(bar: Bar) {
  const { form, bpm, ready, told } = bar;
  const { line, events, words } = useBar(bar);
  const play = usePlayAlong();
  const [cells, setCells] = useState<string[]>(() => Array(form.cells.length).fill("-"));
  const [checked, setChecked] = useState<ReturnType<typeof checkDictation> | null>(null);
  const [tapping, setTapping] = useState<number[] | null>(null);
  const running = play.moment !== null;
  const beats = beatsIn(form.metre);
  const slotSec = 60 / bpm / form.slotsPerBeat;
  const hear = () =>
    void play.start(playAlong(line), { count: true, click: true, reference: true, sound: "clap" });
  const toggle = (slot: number) => {
    setChecked(null);
    setCells(cells.with(slot, cells[slot] === "x" ? "-" : "x"));
  };
  const tapIn = async () => {
    const taps: number[] = [];
    setTapping(taps);
    setChecked(null);
    const plan = playAlong(line);
    const oneBar = { ...plan, totalSec: plan.startSec + form.cells.length * slotSec };
    await play.start(
      { ...oneBar, events: plan.events.filter((event) => event.atSec < oneBar.totalSec - 1e-6) },
      { count: true, click: true, reference: false },
    );
    setCells(
      [
        ...slotsOfTaps(
          taps.map((sec) => sec - plan.startSec),
          form,
          bpm,
        ),
      ].map((cell) => (cell === "x" ? "x" : "-")),
    );
    setTapping(null);
  };
  const catchTap = (time: number) => {
    const sec = play.planSecAt(time);
    if (tapping && sec !== null) tapping.push(sec);
  };
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="btn btn-primary h-12"
          disabled={!ready}
          onClick={running ? play.stop : hear}
        >
          {running ? "Stop" : "Hear the bar"}
        </button>
        <button
          type="button"
          className="btn h-12 border-base-300 bg-base-100"
          disabled={!ready || running}
          onClick={tapIn}
        >
          Write it by tapping
        </button>
        <BeatLights beats={beats} current={running ? beatAt(play.planSec, bpm, beats) : null} />
      </div>
      {tapping && <TapField words="After the count, tap the bar here or on the space bar" tap={catchTap} />}
      <fieldset className="flex flex-wrap gap-3" aria-label="Where something is struck">
        {Array.from({ length: beats }, (_, beat) => (
          <div key={beat} className="flex gap-1 rounded border border-base-300 p-1">
            {Array.from({ length: form.slotsPerBeat }, (_, sub) => {
              const slot = beat * form.slotsPerBeat + sub;
              const mark = checked?.marks[slot];
              return (
                <button
                  key={slot}
                  type="button"
                  aria-pressed={cells[slot] === "x"}
                  aria-label={`Beat ${beat + 1}, place ${sub + 1}${mark ? `, ${MARK_WORDS[mark]}` : ""}`}
                  className={`h-11 w-9 rounded border-2 text-base font-bold ${cells[slot] === "x" ? "border-primary bg-primary text-primary-content" : "border-base-300 bg-base-100"} ${mark === "missing" || mark === "extra" ? "outline outline-4 outline-felt" : ""}`}
                  onClick={() => toggle(slot)}
                >
                  {mark === "missing"
                    ? "○"
                    : mark === "extra"
                      ? "✕"
                      : cells[slot] === "x"
                        ? "●"
                        : sub === 0
                          ? beat + 1
                          : ""}
                </button>
              );
            })}
          </div>
        ))}
      </fieldset>
      <div className="flex items-center gap-3">
        <button
          type="button"
          className="btn h-11 border-base-300 bg-base-100"
          onClick={() => {
            const found = checkDictation(form, cells.join(""));
            setChecked(found);
            const attacks = found.marks.filter((mark) => mark !== "empty");
            told(attacks.filter((mark) => mark === "right").length, Math.max(1, attacks.length));
          }}
        >
          Check it
        </button>
        {checked && (
          <output className={checked.right ? "font-bold text-done" : "text-felt"}>
            {checked.right ? "That is the bar." : "Not yet: hear it again and look at the framed places."}
          </output>
        )}
      </div>
      {checked?.right && (
        <RhythmStaff
          events={events}
          metre={form.metre}
          withMetre
          label="The bar"
          {...(words ? { words } : {})}
        />
      )}
    </div>
  );
}
