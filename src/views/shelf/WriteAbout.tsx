import { INSTRUMENTS, keyName } from "../../core/music";
import {
  beatOfMetre,
  type Entry,
  FASTEST_BPM,
  type Frame,
  SLOWEST_BPM,
  setTempoWords,
} from "../../core/score";
import { Field, TextField } from "../../ui/Field";

/** Metres offered for a new line. */
export const METRES = ["4/4", "3/4", "2/4", "6/8", "2/2"];
const KEYS = [-4, -3, -2, -1, 0, 1, 2, 3];

/** Key, metre, pickup and tempo of a new line: they stand in its first bar. */
export function LineHead({
  entry,
  change,
}: {
  entry: Entry;
  change: (make: (entry: Entry) => Entry) => void;
}) {
  const first = entry.frames[0]!;
  const set = (frame: Partial<Frame>) =>
    change((now) => ({ ...now, frames: [{ ...now.frames[0]!, ...frame }, ...now.frames.slice(1)] }));
  const unpitched = entry.part.clef === "percussion";
  return (
    <div className="grid grid-cols-2 gap-2">
      <Field label="Concert key">
        <select
          className="select w-full border-neutral"
          value={unpitched ? "rhythm" : `${first.key?.fifths ?? 0} ${first.key?.mode ?? "major"}`}
          onChange={(event) => {
            const rhythm = event.target.value === "rhythm";
            const [fifths, mode] = event.target.value.split(" ");
            change((now) => {
              const { key: _key, ...plain } = now.frames[0]!;
              return {
                ...now,
                part: { ...now.part, clef: rhythm ? "percussion" : "treble" },
                frames: [
                  rhythm
                    ? plain
                    : { ...plain, key: { fifths: Number(fifths), mode: mode as "major" | "minor" } },
                  ...now.frames.slice(1),
                ],
              };
            });
          }}
        >
          {(["major", "minor"] as const).flatMap((mode) =>
            KEYS.map((fifths) => (
              <option key={`${fifths} ${mode}`} value={`${fifths} ${mode}`}>
                {keyName(fifths, mode)}
              </option>
            )),
          )}
          <option value="rhythm" disabled={!unpitched && entry.tokens.length > 0}>
            rhythm only
          </option>
        </select>
      </Field>
      <Field label="Metre">
        <select
          className="select w-full border-neutral"
          value={`${first.time!.beats}/${first.time!.beatType}`}
          onChange={(event) => {
            const [beats, beatType] = event.target.value.split("/").map(Number);
            const time = { beats: beats!, beatType: beatType! };
            set({ time, tempo: { beatQuarters: beatOfMetre(time), bpm: first.tempo?.bpm ?? 80 } });
          }}
        >
          {METRES.map((metre) => (
            <option key={metre}>{metre}</option>
          ))}
        </select>
      </Field>
      <Field label="Pickup">
        <select
          className="select w-full border-neutral"
          value={first.length ?? ""}
          onChange={(event) =>
            change((now) => {
              const { length: _length, ...plain } = now.frames[0]!;
              const length = event.target.value;
              const frame = length ? { ...plain, number: "0", length } : { ...plain, number: "1" };
              return { ...now, frames: [frame] };
            })
          }
        >
          <option value="">none</option>
          <option value="1/2">an eighth</option>
          <option value="1">a quarter</option>
          <option value="3/2">three eighths</option>
          <option value="2">a half</option>
        </select>
      </Field>
      <TextField
        label="Tempo"
        inputMode="numeric"
        defaultValue={first.tempo?.bpm ?? 80}
        onBlur={(event) => {
          const bpm = Number(event.target.value);
          if (bpm >= SLOWEST_BPM && bpm <= FASTEST_BPM)
            set({ tempo: { ...first.tempo, beatQuarters: first.tempo?.beatQuarters ?? "1", bpm } });
          else event.target.value = String(first.tempo?.bpm ?? 80);
        }}
      />
      <TextField
        label="Tempo words"
        maxLength={40}
        defaultValue={first.tempo?.words ?? ""}
        placeholder="Lively"
        onBlur={(event) => change((now) => setTempoWords(now, event.target.value))}
      />
    </div>
  );
}

/** Which part is typed: its name and who plays it. */
export function PartAbout({
  main,
  name,
  setName,
  instruments,
  setInstruments,
  problem,
}: {
  /** The line itself, which needs neither. */
  main: boolean;
  name: string;
  setName: (name: string) => void;
  instruments: string[];
  setInstruments: (ids: string[]) => void;
  problem: string | undefined;
}) {
  if (main)
    return (
      <p className="text-sm text-quiet">
        These are the notes of the line itself, in concert pitch. Saving makes a new version: what was given
        and recorded before keeps its notes.
      </p>
    );
  return (
    <>
      <TextField
        label="Name of the part"
        error={problem}
        hint="Second, Bass line, Easy …"
        maxLength={60}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <fieldset className="text-sm">
        <legend className="font-bold">Who plays it without being asked</legend>
        <p className="mb-1 text-quiet">Leave empty to choose it when you assign.</p>
        <div className="grid max-h-52 grid-cols-1 gap-1 overflow-y-auto">
          {INSTRUMENTS.map((instrument) => (
            <label key={instrument.id} className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={instruments.includes(instrument.id)}
                onChange={(event) =>
                  setInstruments(
                    event.target.checked
                      ? [...instruments, instrument.id]
                      : instruments.filter((id) => id !== instrument.id),
                  )
                }
              />
              {instrument.name}
            </label>
          ))}
        </div>
      </fieldset>
    </>
  );
}
