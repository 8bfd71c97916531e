import { useEffect, useState } from "react";
import { ApiError, call } from "../../client/api";
import { playAlong } from "../../core/playalong";
import {
  type CountingSystem,
  gradeOf,
  makePage,
  PageError,
  type PageSettings,
  pageSeconds,
  readForm,
} from "../../core/rhythm";
import { type Score, timeline } from "../../core/score";
import { clockText } from "../../core/warmup";
import type { DrillDetail } from "../../services/counting/schema";
import { GiveForm } from "../../ui/GiveForm";
import { Notation } from "../../ui/Notation";
import { Count, Pick } from "../../ui/Pick";
import { usePlayAlong } from "../../ui/use-play-along";
import { useReady } from "../../ui/use-ready";
import { SendHome } from "../shelf/SendHome";
import { Activities } from "./Activities";
import { PageSettingsForm } from "./PageSettingsForm";
import { SystemEditor } from "./SystemEditor";

interface Props {
  drill: DrillDetail;
  first: { svg: string; score: Score };
  systems: CountingSystem[];
  groups: { id: string; name: string; players: number }[];
}

/** One counting page: seen, heard, worked with, changed, given, printed. */
export function DrillDesk({ drill: opened, first, systems, groups }: Props) {
  const ready = useReady();
  const [drill, setDrill] = useState(opened);
  const [shown, setShown] = useState(first);
  const [draft, setDraft] = useState({
    title: opened.title,
    settings: opened.settings,
    bpm: opened.bpm,
    loops: opened.loops,
  });
  const [system, setSystem] = useState<string | null>(opened.system);
  const [tab, setTab] = useState<"page" | "work" | "change" | "give">("page");
  const [problem, setProblem] = useState("");
  const [offer, setOffer] = useState<PageError | null>(null);
  const [removed, setRemoved] = useState(false);
  const { moment, note, start, stop } = usePlayAlong();
  const forms = drill.forms.map(readForm);
  const counted = systems.find((each) => each.id === system) ?? systems[0]!;

  const show = async (which: string | null) => {
    setSystem(which);
    await load(which);
  };
  const load = async (which: string | null) => {
    try {
      setShown(
        await call("GET", `/api/drills/${drill.id}/page?width=wide${which ? `&system=${which}` : ""}`),
      );
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The page could not be drawn.");
    }
  };
  useEffect(() => stop, [stop]);

  const save = async (settings: PageSettings = draft.settings) => {
    setProblem("");
    setOffer(null);
    try {
      makePage(settings);
    } catch (error) {
      if (error instanceof PageError) return setOffer(error);
      throw error;
    }
    try {
      await call("PUT", `/api/drills/${drill.id}`, { ...draft, settings, system, basedOn: drill.version });
      setDrill(await call<DrillDetail>("GET", `/api/drills/${drill.id}`));
      setDraft({ ...draft, settings });
      await load(system);
      setTab("page");
    } catch (error) {
      setProblem(
        error instanceof ApiError ? error.message : "The page could not be saved. Try again in a moment.",
      );
    }
  };
  const play = () => {
    start(playAlong(timeline(shown.score, { bpm: drill.bpm })), {
      count: true,
      click: true,
      reference: true,
      sound: "clap",
    }).catch(() => setProblem("This browser cannot play sound right now. Reload the page and try again."));
  };
  const setAway = async (away: boolean) => {
    try {
      await call("POST", `/api/drills/${drill.id}/removed`, { removed: away });
      setRemoved(away);
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "That did not work. Try again.");
    }
  };
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
          grade {Math.min(...forms.map((form) => gradeOf(form).grade))} to{" "}
          {Math.max(...forms.map((form) => gradeOf(form).grade))} ·{" "}
          {drill.settings.choice === "random" && !drill.course ? `seed ${drill.settings.seed} · ` : ""}
          {drill.bpm} bpm · {clockText(pageSeconds(forms, drill.bpm, drill.loops))}
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
      {problem && (
        <p role="alert" className="rounded border border-felt bg-base-100 p-3 text-felt">
          {problem}
        </p>
      )}
      {tab === "page" && (
        <section className="panel flex flex-col gap-3 p-4">
          <div className="flex flex-wrap items-end gap-3">
            <button
              type="button"
              className="btn btn-primary w-24"
              disabled={!ready}
              onClick={moment ? stop : play}
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
                onClick={() => setAway(!removed)}
              >
                {removed ? "Put it back" : "Put away"}
              </button>
            </div>
          </div>
          {removed && <p className="text-sm">It is off the shelf; what was given stays given.</p>}
          {note && <output className="text-sm text-quiet">{note}</output>}
          <Notation
            svg={shown.svg}
            label={`${drill.title}: ${forms.length} bars`}
            cursorId={moment?.eventId ?? null}
          />
        </section>
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
        <div className="grid gap-4 lg:grid-cols-2">
          <form
            className="panel flex flex-col gap-3 p-4"
            onSubmit={(event) => {
              event.preventDefault();
              void save();
            }}
          >
            <label className="flex flex-col text-sm font-bold">
              Name
              <input
                className="input w-full border-neutral font-normal"
                value={draft.title}
                maxLength={160}
                onChange={(event) => setDraft({ ...draft, title: event.target.value })}
              />
            </label>
            <div className="flex gap-3">
              <Count
                label="Tempo"
                value={draft.bpm}
                least={30}
                most={200}
                change={(bpm) => setDraft({ ...draft, bpm })}
              />
              <Count
                label="Times a bar"
                value={draft.loops}
                least={1}
                most={8}
                change={(loops) => setDraft({ ...draft, loops })}
              />
            </div>
            {!drill.course && (
              <PageSettingsForm
                settings={draft.settings}
                change={(settings) => setDraft({ ...draft, settings })}
              />
            )}
            {offer && (
              <p role="alert" className="flex flex-wrap items-center gap-2 text-felt">
                {offer.message}
                <button
                  type="button"
                  className="btn btn-sm border-base-300 bg-base-100 text-base-content"
                  onClick={() => {
                    setDraft({ ...draft, settings: offer.offer });
                    setOffer(null);
                  }}
                >
                  Use the nearest
                </button>
              </p>
            )}
            <div className="flex gap-2">
              <button type="submit" className="btn btn-primary">
                Save
              </button>
              {!drill.course && draft.settings.choice === "random" && (
                <button
                  type="button"
                  className="btn border-base-300 bg-base-100"
                  onClick={() => void save({ ...draft.settings, seed: draft.settings.seed + 1 })}
                >
                  Other bars (next seed)
                </button>
              )}
            </div>
          </form>
          <SystemEditor systems={systems} chosen={system} />
        </div>
      )}
      {tab === "give" && (
        <div className="grid gap-4 lg:grid-cols-2">
          <GiveForm
            heading="Give it to clap at home"
            groups={groups}
            bpm={drill.bpm}
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
