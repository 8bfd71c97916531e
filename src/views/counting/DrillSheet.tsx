import { useState } from "react";
import { call } from "../../client/api";
import { playAlong } from "../../core/playalong";
import type { CountingSystem } from "../../core/rhythm";
import { type Score, timeline } from "../../core/score";
import type { DrillDetail } from "../../services/counting/schema";
import { Notation } from "../../ui/Notation";
import { Pick } from "../../ui/Pick";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import type { usePlayAlong } from "../../ui/use-play-along";
import { useReady } from "../../ui/use-ready";

interface Props {
  drill: DrillDetail;
  shown: { svg: string; score: Score };
  systems: CountingSystem[];
  system: string | null;
  show: (system: string | null) => void;
  play: ReturnType<typeof usePlayAlong>;
}

/** A counting page to look at and to hear, with its syllables, to print and to put away. */
export function DrillSheet({ drill, shown, systems, system, show, play }: Props) {
  const ready = useReady();
  const [removed, setRemoved] = useState(false);
  const { busy, problem, run } = useCall();
  const { moment, note } = play;
  const begin = () =>
    void play.start(playAlong(timeline(shown.score, { bpm: drill.bpm })), {
      count: true,
      click: true,
      reference: true,
      sound: "clap",
    });
  const setAway = async (away: boolean) => {
    const done = await run(
      () => call("POST", `/api/drills/${drill.id}/removed`, { removed: away }),
      "That did not work. Try again.",
    );
    if (done) setRemoved(away);
  };
  return (
    <section className="panel flex flex-col gap-3 p-4">
      <div className="flex flex-wrap items-end gap-3">
        <button
          type="button"
          className="btn btn-primary w-24"
          disabled={!ready}
          onClick={moment ? play.stop : begin}
        >
          {moment ? "Stop" : "Play"}
        </button>
        <Pick
          label="Syllables"
          value={system ?? ""}
          options={{ "": "hidden", ...Object.fromEntries(systems.map(({ id, name }) => [id, name])) }}
          choose={(id) => void show(id || null)}
          disabled={!ready}
        />
        <output className="h-10 content-center">
          {moment && moment.count > 0 ? `${moment.count} …` : ""}
        </output>
        <div className="ml-auto flex flex-wrap gap-2">
          {(["page", "answers", "slide"] as const).map((form) => (
            <a
              key={form}
              className="btn btn-sm border-base-300 bg-base-100"
              href={`/shelf/counting/print/${drill.id}?form=${form}${system ? `&system=${system}` : ""}`}
            >
              {{ page: "Print the page", answers: "Answer sheet", slide: "Slide" }[form]}
            </a>
          ))}
          <button
            type="button"
            className="btn btn-sm border-base-300 bg-base-100"
            disabled={busy}
            onClick={() => setAway(!removed)}
          >
            {removed ? "Put it back" : "Put away"}
          </button>
        </div>
      </div>
      {removed && <p className="text-sm">It is off the shelf; what was given stays given.</p>}
      <Problem text={problem} />
      {note && <output className="text-sm text-quiet">{note}</output>}
      <Notation
        svg={shown.svg}
        label={`${drill.title}: ${drill.forms.length} bars`}
        cursorId={moment?.eventId ?? null}
      />
    </section>
  );
}
