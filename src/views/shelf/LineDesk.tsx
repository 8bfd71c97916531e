import { useRef, useState } from "react";
import { ApiError, call } from "../../client/api";
import type { Score } from "../../core/score";
import type { GroupRow } from "../../services/band/schema";
import type { LineDetail, PartView, PencilView } from "../../services/shelf/schema";
import { FingeringList } from "../../ui/Fingering";
import { Notation } from "../../ui/Notation";
import { useReady } from "../../ui/use-ready";
import { noteChoices, snagReason } from "../../ui/wording";
import { PencilPanel } from "../pencil/PencilPanel";
import { AboutLine } from "./AboutLine";
import { AssignForm } from "./AssignForm";
import { BarMap } from "./BarMap";
import type { Person } from "./ForWhom";
import { InTheBook } from "./InTheBook";
import { ListenPanel } from "./ListenPanel";
import { PartChooser } from "./PartChooser";
import { PartFiles } from "./PartFiles";
import { PartNotes } from "./PartNotes";
import { PitchLadder } from "./PitchLadder";
import { type NamedReadyRow, Readiness } from "./Readiness";
import { Recordings } from "./Recordings";
import { SendHome } from "./SendHome";
import { SideBySide } from "./SideBySide";
import { TaughtPanel } from "./TaughtPanel";
import { WaysOut } from "./WaysOut";

interface Props {
  line: LineDetail;
  first: PartView;
  instruments: { id: string; name: string }[];
  readiness: NamedReadyRow[];
  due: string;
  today: string;
  /** How the band calls notes. */
  naming: "letters" | "solfege" | "numbers";
  groups: GroupRow[];
  people: readonly Person[];
}

const TABS = {
  ready: "Who is ready",
  hear: "Hear",
  side: "Side by side",
  range: "Range and octave",
  bars: "Bars",
  pencil: "Pencil",
  home: "Send home",
  recordings: "Recordings",
  about: "Book and parts",
} as const;
type Tab = keyof typeof TABS;
/** Without notes there is nothing to hear, compare or range over. */
const CATALOGUED_TABS: Tab[] = ["recordings", "about"];

/** One line: any instrument's part, and everything a director asks of it before giving it. */
export function LineDesk({
  line: opened,
  first,
  instruments,
  groups,
  people,
  readiness: firstReadiness,
  ...about
}: Props) {
  const { due, today, naming } = about;
  const ready = useReady();
  const [line, setLine] = useState(opened);
  const [readiness, setReadiness] = useState(firstReadiness);
  const [part, setPart] = useState(first);
  const [stage, setStage] = useState<string>("small-tunes");
  const [partId, setPartId] = useState<string | null>(null);
  const [tab, setTab] = useState<Tab>(opened.catalogued ? "about" : "ready");
  const [cursor, setCursor] = useState<string | null>(null);
  const [chosen, setChosen] = useState("");
  const [marks, setMarks] = useState<PencilView[] | null>(null);
  const [problem, setProblem] = useState("");
  const turns = useRef(0);

  const show = async (instrumentId: string, newStage: string, newPart: string | null) => {
    const turn = ++turns.current;
    setProblem("");
    setStage(newStage);
    setPartId(newPart);
    try {
      const query = new URLSearchParams({
        stage: newStage,
        width: "wide",
        ...(newPart ? { part: newPart } : {}),
      });
      const view = await call<PartView>("GET", `/api/lines/${line.id}/parts/${instrumentId}?${query}`);
      if (turn === turns.current) setPart(view);
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "This part could not be shown.");
    }
  };
  const refresh = async () => {
    await show(part.instrumentId, stage, partId);
    const now = await call<{ line: LineDetail; readiness: NamedReadyRow[] }>("GET", `/api/lines/${line.id}`);
    setLine(now.line);
    setReadiness(now.readiness);
  };
  const loadMarks = async () => {
    const query = part.instrumentId === "concert" ? "" : `?instrument=${part.instrumentId}`;
    setMarks((await call<{ marks: PencilView[] }>("GET", `/api/lines/${line.id}/pencil${query}`)).marks);
  };
  const open = (next: Tab) => {
    setTab(next);
    setCursor(null);
    if (next === "pencil") loadMarks().catch((error: Error) => setProblem(error.message));
  };
  const shown = new URLSearchParams({ stage, ...(partId ? { part: partId } : {}) });
  const notes = noteChoices(part.noteList);
  const chosenNote = notes.find((note) => note.eventId === chosen) ?? null;
  const tabs = (Object.keys(TABS) as Tab[]).filter(
    (each) => !line.catalogued || CATALOGUED_TABS.includes(each),
  );

  return (
    <div className="grid gap-4 lg:grid-cols-[1fr_300px]">
      <div className="flex min-w-0 flex-col gap-3">
        <PartChooser {...{ line, part, instruments, stage, partId, show }} />
        {problem && (
          <p role="alert" className="text-felt">
            {problem}
          </p>
        )}
        {part.outOfRange.length > 0 && (
          <p className="rounded border border-felt p-2 text-felt">
            Outside this stage's range for {part.instrumentName}: {part.outOfRange.join(", ")}.{" "}
            <button type="button" className="link font-bold" onClick={() => open("range")}>
              Another octave or note
            </button>
            , a later stage, another line, or wait.
          </p>
        )}
        {line.catalogued ? (
          <InTheBook line={line} part={part} />
        ) : (
          <div className="panel p-3">
            <Notation
              svg={part.svg}
              label={`${line.title}, ${part.instrumentName}, ${part.key}`}
              cursorId={cursor ?? (tab === "pencil" || tab === "range" ? chosen : null)}
              pick={tab === "pencil" || tab === "range" ? setChosen : undefined}
              brackets={part.snags
                .filter((snag) => snag.kind !== "accidental" && snag.kind !== "out-of-range")
                .map((snag) => ({
                  fromEventId: snag.fromEventId,
                  toEventId: snag.toEventId,
                  label: snagReason(snag),
                }))}
            />
            <PartNotes part={part} />
            <PartFiles lineId={line.id} part={part} query={shown} />
          </div>
        )}
        {part.newNotes.length > 0 && (
          <section>
            <h2 className="mb-2 text-xl">New at this stage</h2>
            <FingeringList notes={part.newNotes} forDirector />
          </section>
        )}
        <nav aria-label="More about this line" className="no-print flex flex-wrap gap-1">
          {tabs.map((each) => (
            <button
              key={each}
              type="button"
              disabled={!ready}
              aria-pressed={tab === each}
              className={`btn btn-sm ${tab === each ? "btn-primary" : "border-base-300 bg-base-100"}`}
              onClick={() => open(each)}
            >
              {TABS[each]}
            </button>
          ))}
        </nav>
        {tab === "ready" && <TaughtPanel lineId={line.id} groups={groups} today={today} changed={refresh} />}
        {tab === "ready" && (
          <Readiness
            rows={readiness}
            show={(instrumentId, newStage) => {
              void show(instrumentId, newStage, null);
              scrollTo({ top: 0 });
            }}
          />
        )}
        {tab === "bars" && <BarMap bars={line.barRelations} form={line.form} />}
        {tab !== "ready" && tab !== "bars" && (
          <section className="no-print panel p-4" aria-label={TABS[tab]}>
            {tab === "hear" && (
              <ListenPanel
                key={`${part.instrumentId}/${stage}/${partId}`}
                lineId={line.id}
                instrumentId={part.instrumentId}
                stage={stage}
                partId={partId}
                bpm={line.bpm}
                setCursor={setCursor}
                called={naming}
              />
            )}
            {tab === "home" && (
              <SendHome
                title={`${line.number ? `No. ${line.number} ` : ""}${line.title}`}
                bpm={line.bpm}
                people={instruments}
                partFor={async (id) => ({
                  name: instruments.find((each) => each.id === id)!.name,
                  sound: id,
                  score: (
                    await call<{ score: Score }>(
                      "GET",
                      `/api/lines/${line.id}/score?instrument=${id}&stage=${stage}${partId ? `&part=${partId}` : ""}`,
                    )
                  ).score,
                })}
              />
            )}
            {tab === "side" && (
              <SideBySide lineId={line.id} title={line.title} stage={stage} instruments={instruments} />
            )}
            {tab === "range" &&
              (part.instrumentId === "concert" || !part.ladder ? (
                <p className="text-quiet">Choose an instrument with pitches above to see its range.</p>
              ) : (
                <div className="grid gap-6 xl:grid-cols-2">
                  <PitchLadder
                    ladder={part.ladder}
                    name={part.instrumentName}
                    teach={async (midi) => {
                      await call("POST", "/api/teachings", {
                        groupId: groups.find((group) => group.everyone)?.id ?? groups[0]?.id,
                        instrumentId: part.instrumentId,
                        things: [{ kind: "note", thing: String(midi) }],
                        on: today,
                      });
                      await refresh();
                    }}
                  />
                  <WaysOut lineId={line.id} part={part} chosen={chosenNote} changed={refresh} />
                </div>
              ))}
            {tab === "pencil" && (
              <PencilPanel
                lineId={line.id}
                notes={notes}
                chosen={chosen}
                choose={setChosen}
                marks={marks ?? []}
                breaths={part.breaths}
                instrument={
                  part.instrumentId === "concert"
                    ? null
                    : { id: part.instrumentId, name: part.instrumentName }
                }
                forDirector
                changed={() => {
                  void loadMarks();
                  void show(part.instrumentId, stage, partId);
                }}
              />
            )}
            {tab === "recordings" && <Recordings lineId={line.id} />}
            {tab === "about" && <AboutLine line={line} instruments={instruments} changed={refresh} />}
          </section>
        )}
        {line.notUnderstood.length > 0 && (
          <p className="text-sm text-quiet">
            Left out of {line.sourceName}: {line.notUnderstood.join("; ")}.
          </p>
        )}
      </div>
      <AssignForm {...{ line, groups, people, instruments, due }} />
    </div>
  );
}
