import { useRef, useState } from "react";
import { ApiError, call } from "../../client/api";
import type { ReadyRow } from "../../core/ready";
import type { Score } from "../../core/score";
import type { LineDetail, PartView, PencilView } from "../../services/shelf/schema";
import { FingeringList } from "../../ui/Fingering";
import { Notation } from "../../ui/Notation";
import { useReady } from "../../ui/use-ready";
import { noteChoices, snagReason } from "../../ui/wording";
import { PencilPanel } from "../pencil/PencilPanel";
import { AboutLine } from "./AboutLine";
import { AssignForm } from "./AssignForm";
import { BarMap } from "./BarMap";
import { ListenPanel } from "./ListenPanel";
import { PitchLadder } from "./PitchLadder";
import { Readiness } from "./Readiness";
import { Recordings } from "./Recordings";
import { SendHome } from "./SendHome";
import { SideBySide } from "./SideBySide";
import { WaysOut } from "./WaysOut";

interface Props {
  line: LineDetail;
  first: PartView;
  instruments: { id: string; name: string }[];
  readiness: ReadyRow[];
  groups: { id: string; name: string; players: number; instruments: string[] }[];
}

const STAGES = [
  ["five-notes", "Five notes"],
  ["small-tunes", "Small tunes"],
  ["widening", "Widening"],
] as const;

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
export function LineDesk({ line: opened, first, instruments, groups, readiness: firstReadiness }: Props) {
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
    const now = await call<{ line: LineDetail; readiness: ReadyRow[] }>("GET", `/api/lines/${line.id}`);
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
        <div className="no-print flex flex-wrap items-center gap-3">
          <label className="flex items-center gap-2">
            <span className="font-bold">Part</span>
            <select
              className="select border-neutral"
              disabled={!ready}
              value={part.instrumentId}
              onChange={(event) => show(event.target.value, stage, partId)}
            >
              <option value="concert">Concert pitch</option>
              {instruments.map((instrument) => (
                <option key={instrument.id} value={instrument.id}>
                  {instrument.name}
                </option>
              ))}
            </select>
          </label>
          {line.parts.length > 1 && (
            <label className="flex items-center gap-2">
              <span className="font-bold">from</span>
              <select
                className="select w-auto border-neutral"
                disabled={!ready}
                value={partId ?? ""}
                onChange={(event) => show(part.instrumentId, stage, event.target.value || null)}
              >
                <option value="">its own, else the line</option>
                {line.parts.map((each, index) => (
                  <option key={each.id} value={each.id}>
                    {index === 0 ? "the line itself" : each.name}
                  </option>
                ))}
              </select>
            </label>
          )}
          <label className="flex items-center gap-2">
            <span className="font-bold">Stage</span>
            <select
              className="select border-neutral"
              disabled={!ready}
              value={stage}
              onChange={(event) => show(part.instrumentId, event.target.value, partId)}
            >
              {STAGES.map(([id, name]) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          </label>
          <p className="text-quiet" aria-live="polite">
            {part.instrumentName}: {part.key}
            {part.octaveShift !== 0 &&
              `, ${Math.abs(part.octaveShift)} octave${Math.abs(part.octaveShift) > 1 ? "s" : ""} ${part.octaveShift > 0 ? "higher" : "lower"} ${part.octaveBy === "director" ? "as you chose" : "to fit the stage"}`}
          </p>
        </div>
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
          <section className="panel p-4">
            <h2 className="text-xl">The notes are in the book only</h2>
            <p className="mt-1">
              {[line.book, line.page ? `page ${line.page}` : "", line.number ? `No. ${line.number}` : ""]
                .filter(Boolean)
                .join(", ")}
              {line.book || line.page || line.number ? ": " : ""}
              {line.bars} {line.bars === 1 ? "bar" : "bars"} of {line.metre} in concert {line.concertKey},{" "}
              {part.instrumentId === "concert" ? "" : `${part.key} for ${part.instrumentName}, `}
              {line.bpm} bpm. It can be given and recorded; takes are answered with rhythm, level and tuning,
              not with wrong notes. Type or import its notes to get parts, fingerings and full answers.
            </p>
          </section>
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
            <p className="no-print mt-2 flex flex-wrap gap-2">
              <button
                type="button"
                className="btn btn-sm border-base-300 bg-base-100"
                onClick={() => print()}
              >
                Print this part
              </button>
              {[
                [`/shelf/print/${line.id}`, "Print everybody's"],
                [
                  `/api/lines/${line.id}/files/${part.instrumentId}.musicxml?${shown}`,
                  "MusicXML of this part",
                ],
                [`/api/lines/${line.id}/files/${part.instrumentId}.mid?${shown}`, "MIDI of this part"],
                [`/api/lines/${line.id}/bundle`, "All parts (zip)"],
                ...(part.instrumentId === "concert"
                  ? []
                  : [[`/shelf/instruments/${part.instrumentId}`, `${part.instrumentName}: fingerings`]]),
              ].map(([href, name]) => (
                <a key={href} className="btn btn-sm border-base-300 bg-base-100" href={href}>
                  {name}
                </a>
              ))}
            </p>
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
                  <PitchLadder ladder={part.ladder} name={part.instrumentName} />
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
      <AssignForm line={line} groups={groups} />
    </div>
  );
}

/** What this part asks of its players, in words under the notation. */
function PartNotes({ part }: { part: PartView }) {
  const fresh = [...part.newRhythms, ...part.newSigns];
  const snags = part.snags.filter((snag) => snag.kind !== "out-of-range");
  if (part.difficulty === null) return null;
  return (
    <div className="mt-2 flex flex-col gap-1 text-sm">
      {snags.length > 0 && (
        <ul>
          {snags.map((snag) => (
            <li key={`${snag.fromEventId}-${snag.toEventId}-${snag.kind}`}>
              <span className="font-bold">bar {snag.measure}:</span> {snagReason(snag)}
            </li>
          ))}
        </ul>
      )}
      <p className="text-quiet">
        {fresh.length > 0 && `New rhythms and signs: ${fresh.join(", ")}. `}
        Difficulty {part.difficulty.total.toFixed(1)}:{" "}
        {Object.entries(part.difficulty.parts)
          .filter(([, value]) => value > 0)
          .map(([name, value]) => `${name} ${value.toFixed(1)}`)
          .join(", ") || "nothing beyond a first line"}
        .
      </p>
    </div>
  );
}
