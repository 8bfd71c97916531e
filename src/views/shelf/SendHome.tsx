import { zipSync } from "fflate";
import { useEffect, useState } from "react";
import { ApiError, call } from "../../client/api";
import { loadBank } from "../../client/bank";
import { type FileFormat, renderFile, saveFile } from "../../client/render";
import { decodeInBrowser } from "../../client/sound";
import { afterWords, callAndResponse, playAlong, type Spoken } from "../../core/playalong";
import { FASTEST_BPM, type Score, SLOWEST_BPM, timeline } from "../../core/score";
import type { ReminderView } from "../../services/reminders/schema";
import { Count, Pick } from "../../ui/Pick";
import { useOwnVoice } from "../../ui/use-own-voice";
import { useReady } from "../../ui/use-ready";

/** One file to send: whose it is, what plays it, and its notes. */
export interface HomePart {
  name: string;
  sound: string;
  score: Score;
}

interface Props {
  title: string;
  bpm: number;
  /** Everybody who could get a file. */
  people: { id: string; name: string }[];
  partFor: (id: string) => Promise<HomePart>;
}

const LONGEST_REMINDER_SEC = 30;
const CALLS = {
  none: "straight through",
  "1": "call and response, 1 bar",
  "2": "call and response, 2 bars",
  "4": "call and response, 4 bars",
};

/** Play-alongs as files: one an instrument, with starting note, count-off, call and response, and the director's words. */
export function SendHome({ title, bpm: marked, people, partFor }: Props) {
  const ready = useReady();
  const [chosen, setChosen] = useState<string[]>(people.map(({ id }) => id));
  const [bpm, setBpm] = useState(marked);
  const [way, setWay] = useState<keyof typeof CALLS>("none");
  const [format, setFormat] = useState<FileFormat>("mp3");
  const [options, setOptions] = useState({ startingNote: true, click: true, notes: true });
  const [reminders, setReminders] = useState<ReminderView[]>([]);
  const [said, setSaid] = useState<string[]>([]);
  const [done, setDone] = useState<number | null>(null);
  const [told, setTold] = useState("");
  const [problem, setProblem] = useState("");

  useEffect(() => {
    call<{ reminders: ReminderView[] }>("GET", "/api/reminders").then(
      (answer) => setReminders(answer.reminders),
      () => setProblem("Your spoken reminders could not be fetched; files can be made without them."),
    );
  }, []);

  const make = async () => {
    setProblem("");
    setTold("");
    setDone(0);
    try {
      const words = await Promise.all(said.map(fetchReminder));
      const files: Record<string, Uint8Array> = {};
      let notes = "";
      for (const [i, id] of chosen.entries()) {
        const { name, sound, score } = await partFor(id);
        const { bank, note } = await loadBank([sound]);
        notes ||= note;
        const line = timeline(score, { bpm });
        const asked = { startingNote: options.startingNote };
        const plain = way === "none" ? playAlong(line, asked) : callAndResponse(line, Number(way), asked);
        const { plan, wordsAtSec } = afterWords(
          plain,
          words.map(({ pcm, rate }) => pcm.length / rate),
        );
        const spoken = words.map((word, place): Spoken => ({ ...word, atSec: wordsAtSec[place]! }));
        const mix = { count: true, click: options.click, reference: options.notes, sound };
        files[`${fileName(`${title}, ${name}`)}.${format}`] = await renderFile({
          plan,
          mix,
          bank,
          spoken,
          format,
        });
        setDone(i + 1);
      }
      const names = Object.keys(files);
      if (names.length === 1)
        saveFile(names[0]!, files[names[0]!]!, format === "mp3" ? "audio/mpeg" : "audio/wav");
      else saveFile(`${fileName(title)}.zip`, zipSync(files, { level: 0 }), "application/zip");
      setTold(
        [
          names.length === 1
            ? "The file is in your downloads."
            : `${names.length} files are in your downloads, in one zip.`,
          notes,
        ]
          .filter(Boolean)
          .join(" "),
      );
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      setDone(null);
    }
  };
  const toggle = (name: keyof typeof options, label: string) => (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={options[name]}
        onChange={(event) => setOptions({ ...options, [name]: event.target.checked })}
      />
      {label}
    </label>
  );
  return (
    <div className="flex flex-col gap-3">
      <fieldset className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
        <legend className="font-bold">One file for each</legend>
        {people.map(({ id, name }) => (
          <label key={id} className="flex items-center gap-1">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={chosen.includes(id)}
              onChange={() =>
                setChosen(chosen.includes(id) ? chosen.filter((each) => each !== id) : [...chosen, id])
              }
            />
            {name}
          </label>
        ))}
      </fieldset>
      <div className="flex flex-wrap items-end gap-3">
        <Count
          label="Tempo"
          value={bpm}
          least={SLOWEST_BPM}
          most={FASTEST_BPM}
          change={(value) => setBpm(value)}
        />
        <Pick label="Way" value={way} options={CALLS} choose={setWay} />
        <Pick
          label="File"
          value={format}
          options={{ mp3: "MP3, small", wav: "WAV, exact" }}
          choose={setFormat}
        />
      </div>
      <div className="flex flex-wrap gap-x-5 gap-y-2 text-sm">
        {toggle("startingNote", "starting note first")}
        {toggle("click", "click")}
        {toggle("notes", "notes")}
      </div>
      <Reminders reminders={reminders} said={said} setSaid={setSaid} changed={setReminders} />
      <div className="flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="btn btn-primary"
          disabled={
            !ready || done !== null || chosen.length === 0 || !(bpm >= SLOWEST_BPM && bpm <= FASTEST_BPM)
          }
          onClick={make}
        >
          {done === null
            ? `Make ${chosen.length === 1 ? "the file" : `${chosen.length} files`}`
            : `${done} of ${chosen.length} …`}
        </button>
        {done !== null && (
          <progress className="progress w-48" value={done} max={chosen.length} aria-label="Files made" />
        )}
        {told && <output className="text-done">{told}</output>}
      </div>
      {problem && (
        <p role="alert" className="text-felt">
          {problem}
        </p>
      )}
    </div>
  );
}

/** The director's spoken reminders: which are said first, and a new one. */
function Reminders({
  reminders,
  said,
  setSaid,
  changed,
}: {
  reminders: ReminderView[];
  said: string[];
  setSaid: (said: string[]) => void;
  changed: (reminders: ReminderView[]) => void;
}) {
  const [name, setName] = useState("");
  const [problem, setProblem] = useState("");
  const keep = async (sound: Blob) => {
    setProblem("");
    try {
      const { id } = await call<{ id: string }>(
        "POST",
        `/api/reminders?name=${encodeURIComponent(name || "Reminder")}`,
        sound,
      );
      changed([...reminders, { id, name: name || "Reminder" }]);
      setSaid([...said, id]);
      setName("");
    } catch (error) {
      setProblem(
        error instanceof ApiError ? error.message : "The reminder could not be kept. Record it again.",
      );
    }
  };
  const voice = useOwnVoice(LONGEST_REMINDER_SEC, (sound) => void keep(sound));
  const remove = async (id: string) => {
    try {
      await call("POST", `/api/reminders/${id}/removed`, { removed: true });
      changed(reminders.filter((each) => each.id !== id));
      setSaid(said.filter((each) => each !== id));
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "It could not be removed.");
    }
  };
  return (
    <fieldset className="flex flex-col gap-2 text-sm">
      <legend className="font-bold">In your own voice, before the count</legend>
      {reminders.map(({ id, name: title }) => (
        <div key={id} className="flex flex-wrap items-center gap-3">
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={said.includes(id)}
              onChange={() => setSaid(said.includes(id) ? said.filter((each) => each !== id) : [...said, id])}
            />
            {title}
          </label>
          {/* biome-ignore lint/a11y/useMediaCaption: the director's own words, named beside it */}
          <audio controls preload="none" src={`/api/reminders/${id}/sound`} className="h-8 w-56" />
          <button type="button" className="link" onClick={() => remove(id)}>
            Remove
          </button>
        </div>
      ))}
      <div className="flex flex-wrap items-center gap-2">
        <input
          className="input input-sm w-56 border-neutral"
          value={name}
          maxLength={80}
          placeholder="Mind the flat in bar 5"
          aria-label="What the new reminder says"
          onChange={(event) => setName(event.target.value)}
        />
        <button type="button" className="btn btn-sm border-base-300 bg-base-100" onClick={voice.toggle}>
          {voice.recording ? "Stop and keep it" : "Record a reminder"}
        </button>
        <span className="text-quiet">
          Recorded once, at most {LONGEST_REMINDER_SEC} seconds; use it in every play-along.
        </span>
      </div>
      {(problem || voice.problem) && (
        <p role="alert" className="text-felt">
          {problem || voice.problem}
        </p>
      )}
    </fieldset>
  );
}

async function fetchReminder(id: string): Promise<{ pcm: Float32Array; rate: number }> {
  const response = await fetch(`/api/reminders/${id}/sound`);
  if (!response.ok) throw new Error("A spoken reminder could not be fetched. Leave it out, or try again.");
  const { samples, sampleRate } = await decodeInBrowser(await response.blob());
  return { pcm: samples, rate: sampleRate };
}

function fileName(text: string): string {
  return text.replace(/[^\p{L}\p{N} ]+/gu, "").trim();
}
