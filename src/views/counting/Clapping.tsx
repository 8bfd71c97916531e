import { heardThenYours, playAlong } from "../../core/playalong";
import { beatsIn } from "../../core/rhythm";
import { BeatLights } from "../../ui/BeatLights";
import { RhythmStaff } from "../../ui/RhythmStaff";
import { type Bar, beatAt, useBar } from "./bar";
import { TurnResult } from "./TurnResult";
import { useTurn } from "./use-turn";

/** Read and clap, or hear and clap: judged attack by attack. */
export function Clapping(bar: Bar & { seen: boolean }) {
  const { form, bpm, way, seen, ready } = bar;
  const { score, line, events, words } = useBar(bar);
  const { play, answer, problem, taps, tap, begin } = useTurn();
  const running = play.moment !== null;
  const beats = beatsIn(form.metre);
  const start = () => {
    const echo = seen ? null : heardThenYours(line);
    const plan = echo?.plan ?? playAlong(line);
    // Into a microphone only the count is sounded; the beat goes on to be seen.
    const mix = { count: true, click: way === "tap", reference: !seen, sound: "clap" };
    void begin(plan, mix, way, { score, bpm, yoursFromSec: echo?.yoursFromSec ?? plan.startSec });
  };
  const shownNow = seen || answer !== null;
  return (
    <div className="flex flex-col gap-3">
      {shownNow ? (
        <div className="overflow-x-auto">
          <RhythmStaff
            events={events}
            metre={form.metre}
            withMetre
            label={`The bar: ${events.length} signs in ${form.metre.beats}/${form.metre.beatType}`}
            cursorId={running ? (play.moment?.eventId ?? null) : null}
            {...(words ? { words } : {})}
          />
        </div>
      ) : (
        <p className="text-quiet">Listen to the bar, then clap it back. The notes are shown afterwards.</p>
      )}
      <div className="flex flex-wrap items-center gap-4">
        <button
          type="button"
          className="btn btn-primary h-12 w-32"
          disabled={!ready}
          onClick={running ? play.stop : start}
        >
          {running ? "Stop" : "Start"}
        </button>
        <BeatLights beats={beats} current={running ? beatAt(play.planSec, bpm, beats) : null} />
        <output className="text-base">
          {running &&
            (play.moment!.count > 0 ? `${play.moment!.count} …` : play.moment!.phase || "your turn")}
        </output>
      </div>
      {way === "tap" && (
        <button
          type="button"
          className="h-20 w-full rounded border-2 border-dashed border-base-300 bg-base-200 text-base text-quiet active:bg-reed"
          onPointerDown={(event) => tap(event.timeStamp)}
          disabled={!running}
        >
          {running
            ? `Tap here, or the space bar${taps > 0 ? ` · ${taps}` : ""}`
            : "Press Start, count along, then tap here or on the space bar"}
        </button>
      )}
      {problem && (
        <p role="alert" className="text-felt">
          {problem}
        </p>
      )}
      {answer && <TurnResult answer={answer} score={score} metre={form.metre} bpm={bpm} />}
    </div>
  );
}
