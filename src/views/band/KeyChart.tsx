import { useMemo, useState } from "react";
import { call } from "../../client/api";
import {
  fingeringFor,
  fingeringText,
  homeOf,
  type Instrument,
  instrumentById,
  keyName,
  keyRow,
  octavesUp,
  pitchName,
  pitchToMidi,
  type Stage,
  spellMidi,
  transposePitch,
  writtenFor,
} from "../../core/music";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { STAGE_NAMES } from "../../ui/wording";

interface Props {
  /** Instruments of the band, in score order. */
  instruments: string[];
  groups: { id: string; name: string; players: number }[];
  today: string;
}

/** Concert keys in the order a beginner band meets them. */
const KEYS = [-2, -3, -1, -4, 0, -5, 1, 2, -6, 3];
const NOTES = [10, 0, 2, 3, 5, 7, 9, 8, 11, 1, 4, 6];

/** One concert key or note, and what every instrument of the band reads for it: for the wall, the projector and the printer. */
export function KeyChart({ instruments, groups, today }: Props) {
  const [fifths, setFifths] = useState(-2);
  const [mode, setMode] = useState<"major" | "minor">("major");
  const [note, setNote] = useState<number | null>(null);
  const [stage, setStage] = useState<Stage>("small-tunes");
  const [large, setLarge] = useState(false);
  const players = useMemo(
    () => instruments.map(instrumentById).filter(({ ranges, drums }) => ranges && !drums),
    [instruments],
  );
  const rows = useMemo(
    () => players.map((instrument) => keyRow(instrument, stage, fifths, mode)),
    [players, stage, fifths, mode],
  );
  const notes = useMemo(
    () => (note === null ? [] : players.map((instrument) => noteRow(instrument, note))),
    [players, note],
  );
  const title = note === null ? `Concert ${keyName(fifths, mode)}` : `Concert ${noteNameOf(note)}`;
  const cell = large ? "px-3 py-2 text-3xl" : "px-3 py-1.5 text-base";
  return (
    <div className={large ? "fixed inset-0 z-30 overflow-auto bg-base-200 p-6" : "flex flex-col gap-3"}>
      <div className="no-print flex flex-wrap items-end gap-3">
        <label className="flex flex-col text-sm font-bold">
          Concert key
          <select
            className="select select-sm w-auto border-neutral font-normal"
            value={`${fifths} ${mode}`}
            onChange={(event) => {
              const [value, kind] = event.target.value.split(" ");
              setFifths(Number(value));
              setMode(kind as "major" | "minor");
              setNote(null);
            }}
          >
            {(["major", "minor"] as const).flatMap((kind) =>
              KEYS.map((value) => (
                <option key={`${value} ${kind}`} value={`${value} ${kind}`}>
                  {keyName(value, kind)}
                </option>
              )),
            )}
          </select>
        </label>
        <label className="flex flex-col text-sm font-bold">
          or one concert note
          <select
            className="select select-sm w-auto border-neutral font-normal"
            value={note ?? ""}
            onChange={(event) => setNote(event.target.value === "" ? null : Number(event.target.value))}
          >
            <option value="">the whole key</option>
            {NOTES.map((pitchClass) => (
              <option key={pitchClass} value={pitchClass}>
                {noteNameOf(pitchClass)}
              </option>
            ))}
          </select>
        </label>
        <label className="flex flex-col text-sm font-bold">
          As far as
          <select
            className="select select-sm w-auto border-neutral font-normal"
            value={stage}
            onChange={(event) => setStage(event.target.value as Stage)}
          >
            {Object.entries(STAGE_NAMES).map(([id, name]) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <button
          type="button"
          className="btn btn-sm border-base-300 bg-base-100"
          aria-pressed={large}
          onClick={() => setLarge(!large)}
        >
          {large ? "Back to the page" : "Large, for the projector"}
        </button>
        <button type="button" className="btn btn-sm border-base-300 bg-base-100" onClick={() => print()}>
          Print
        </button>
      </div>
      <h2 className={large ? "mt-4 text-5xl" : "text-3xl"}>{title}</h2>
      <div className="panel mt-2 w-fit max-w-full overflow-x-auto">
        <table className="border-collapse">
          <thead>
            <tr className="border-b border-base-300 text-left">
              <th className={cell}>Instrument</th>
              {note === null && <th className={cell}>Reads</th>}
              <th className={cell}>{note === null ? "First note" : "Reads"}</th>
              <th className={cell}>Fingering</th>
              {note === null && <th className={cell}>Scale</th>}
            </tr>
          </thead>
          <tbody>
            {note === null
              ? rows.map((row) => (
                  <tr key={row.instrumentId} className="border-b border-base-300 last:border-0">
                    <th scope="row" className={`${cell} text-left font-normal`}>
                      {row.name}
                    </th>
                    <td className={`${cell} font-bold`}>{row.key}</td>
                    <td className={`${cell} font-bold`}>{row.first?.name}</td>
                    <td className={cell}>{row.first?.fingering}</td>
                    <td className={`${cell} whitespace-nowrap tracking-wide`}>{row.scale.join("  ")}</td>
                  </tr>
                ))
              : notes.map((row) => (
                  <tr key={row.id} className="border-b border-base-300 last:border-0">
                    <th scope="row" className={`${cell} text-left font-normal`}>
                      {row.name}
                    </th>
                    <td className={`${cell} font-bold`}>{row.written}</td>
                    <td className={cell}>{row.fingering}</td>
                  </tr>
                ))}
          </tbody>
        </table>
      </div>
      {note !== null && !large && <TeachNote {...{ note, groups, today }} />}
    </div>
  );
}

function noteNameOf(pitchClass: number): string {
  return pitchName(spellMidi(60 + pitchClass, -2), false);
}

function noteRow(instrument: Instrument, pitchClass: number) {
  const plain = writtenFor(instrument, spellMidi(60 + pitchClass, -2));
  const octaves = Math.round((homeOf(instrument, pitchClass) - pitchToMidi(plain)) / 12);
  const pitch = transposePitch(plain, octavesUp(octaves));
  const chosen = fingeringFor(instrument, pitch)?.choices[0];
  return {
    id: instrument.id,
    name: instrument.name,
    written: pitchName(pitch),
    fingering: chosen ? fingeringText(chosen) : "",
  };
}

/** Marks the note as taught: each instrument of the group learns its own. */
function TeachNote({ note, groups, today }: { note: number } & Pick<Props, "groups" | "today">) {
  const { busy, problem, run } = useCall();
  const [groupId, setGroupId] = useState(groups[0]?.id ?? "");
  const [taught, setTaught] = useState<{ teachingId: string; players: number } | null>(null);
  const name = noteNameOf(note);
  const teach = async () => {
    const answer = await run(
      () =>
        call<{ teachingId: string; players: number }>("POST", "/api/teachings/concert", {
          groupId,
          pitchClass: note,
          on: today,
        }),
      "This could not be kept.",
    );
    if (answer) setTaught(answer);
  };
  const undo = async () => {
    if (
      taught &&
      (await run(
        () => call("DELETE", `/api/teachings/${taught.teachingId}`),
        "This could not be taken back.",
      ))
    )
      setTaught(null);
  };
  return (
    <div className="no-print flex flex-wrap items-end gap-2">
      <label className="flex flex-col text-sm font-bold">
        Taught today to
        <select
          className="select select-sm w-auto border-neutral font-normal"
          value={groupId}
          onChange={(event) => setGroupId(event.target.value)}
        >
          {groups.map((group) => (
            <option key={group.id} value={group.id}>
              {group.name} ({group.players})
            </option>
          ))}
        </select>
      </label>
      <button type="button" className="btn btn-primary btn-sm" disabled={busy || !groupId} onClick={teach}>
        Mark {name} as taught
      </button>
      {taught && (
        <output className="text-sm text-done">
          {taught.players} players know concert {name} now.{" "}
          <button type="button" className="link" onClick={undo}>
            Undo
          </button>
        </output>
      )}
      <Problem text={problem} className="text-sm" />
    </div>
  );
}
