import { useEffect, useState } from "react";
import { call } from "../../client/api";
import { type CountingSystem, gradeOf, pageSeconds, readForm } from "../../core/rhythm";
import type { Score } from "../../core/score";
import { clockText } from "../../core/warmup";
import type { DrillDetail, RhythmAsked } from "../../services/counting/schema";
import { GiveForm } from "../../ui/GiveForm";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { usePlayAlong } from "../../ui/use-play-along";
import { useReady } from "../../ui/use-ready";
import { SendHome } from "../shelf/SendHome";
import { Activities } from "./Activities";
import { DrillChange } from "./DrillChange";
import { DrillSheet } from "./DrillSheet";
import { RhythmsTaught } from "./RhythmsTaught";

interface Props {
  drill: DrillDetail;
  first: { svg: string; score: Score };
  systems: CountingSystem[];
  groups: { id: string; name: string; players: number }[];
  /** What the page asks, and of whom it is new. */
  rhythms: RhythmAsked[];
  today: string;
  /** A school day in a week: what stands in the form at first. */
  due: string;
}

/** One counting page: seen, heard, worked with, changed, given, printed. */
export function DrillDesk({ drill: opened, first, systems, groups, rhythms, today, due }: Props) {
  const ready = useReady();
  const [drill, setDrill] = useState(opened);
  const [shown, setShown] = useState(first);
  const [system, setSystem] = useState<string | null>(opened.system);
  const [tab, setTab] = useState<"page" | "work" | "change" | "give">("page");
  const { problem, run } = useCall();
  const player = usePlayAlong();
  const { stop } = player;
  const forms = drill.forms.map(readForm);
  const counted = systems.find((each) => each.id === system) ?? systems[0]!;

  const show = async (which: string | null) => {
    setSystem(which);
    await load(which);
  };
  const load = async (which: string | null) => {
    const drawn = await run(
      () =>
        call<Props["first"]>(
          "GET",
          `/api/drills/${drill.id}/page?width=wide${which ? `&system=${which}` : ""}`,
        ),
      "The page could not be drawn.",
    );
    if (drawn) setShown(drawn);
  };
  useEffect(() => stop, [stop]);

  const tabs = { page: "The page", work: "Work with it", change: "Change it", give: "Give it" } as const;

  return (
    <div className="flex flex-col gap-4">
      <div className="flex flex-wrap items-center gap-2">
        {(Object.entries(tabs) as [keyof typeof tabs, string][]).map(([id, name]) => (
          <button
            key={id}
            type="button"
            className={`btn ${tab === id ? "btn-primary" : "border-base-300 bg-base-100"}`}
            aria-pressed={tab === id}
            disabled={!ready}
            onClick={() => {
              stop();
              setTab(id);
            }}
          >
            {name}
          </button>
        ))}
        <p className="ml-2 text-sm text-quiet">
          {forms.length} {forms.length === 1 ? "bar" : "bars"}
          {drill.available !== null && drill.settings.choice === "random" ? ` of ${drill.available}` : ""} ·
          <abbr title="0 is the easiest">grade</abbr> {Math.min(...forms.map((form) => gradeOf(form).grade))}{" "}
          to {Math.max(...forms.map((form) => gradeOf(form).grade))} · {drill.bpm} bpm ·{" "}
          {clockText(pageSeconds(forms, drill.bpm, drill.loops))}
          {drill.course && (
            <>
              {" · "}
              <a className="link" href={`/shelf/counting/course/${drill.course.id}`}>
                day {drill.course.day} of {drill.course.title}
              </a>
            </>
          )}
        </p>
      </div>
      <Problem text={problem} className="rounded border border-felt bg-base-100 p-3" />
      {tab === "page" && <RhythmsTaught rhythms={rhythms} groups={groups} today={today} />}
      {tab === "page" && (
        <DrillSheet drill={drill} shown={shown} systems={systems} system={system} show={show} play={player} />
      )}
      {tab === "work" && (
        <Activities
          forms={forms}
          bpm={drill.bpm}
          loops={drill.loops}
          system={counted}
          seed={drill.settings.seed}
        />
      )}
      {tab === "change" && (
        <DrillChange
          drill={drill}
          system={system}
          changed={async () => {
            setDrill(await call<DrillDetail>("GET", `/api/drills/${drill.id}`));
            await load(system);
            setTab("page");
          }}
        />
      )}
      {tab === "give" && (
        <div className="grid gap-4 lg:grid-cols-2">
          <GiveForm
            heading="Give it to clap at home"
            groups={groups}
            bpm={drill.bpm}
            due={due}
            path={`/api/drills/${drill.id}/given`}
            extra={{}}
            note={
              <p className="text-sm text-quiet">
                Everybody claps it, whatever they play. Each take is answered attack by attack.
              </p>
            }
          />
          <section className="panel flex h-fit flex-col gap-3 p-4">
            <h2 className="text-xl">A file to send home</h2>
            <SendHome
              title={drill.title}
              bpm={drill.bpm}
              people={[{ id: "clap", name: "everybody, clapped" }]}
              partFor={async () => ({ name: "clapped", sound: "clap", score: shown.score })}
            />
          </section>
        </div>
      )}
    </div>
  );
}
