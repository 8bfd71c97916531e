import { keyName } from "../../core/music";
import { type Block, LIMITS, MOST_STEPS } from "../../core/warmup";
import { Count, Pick } from "../../ui/Pick";

const NOTES = { Bb: "B♭", C: "C", D: "D", Eb: "E♭", F: "F", G: "G", Ab: "A♭", A: "A" };
const VALUES = { whole: "whole", half: "half", quarter: "quarter", eighth: "eighth", "16th": "sixteenth" };
const TONGUING = {
  tongued: "tongued",
  slurred: "slurred",
  "tongued-then-slurred": "tongued, then slurred",
  "slurred-then-tongued": "slurred, then tongued",
};
const DIRECTIONS = { "up-and-down": "up and down", up: "up", down: "down" };
const UP_DOWN = { down: "down", up: "up" };
/** Concert keys of a beginner band on the circle of fifths, flats first. */
const KEYS = [-2, -3, -1, -4, 0, -5, 1, -6, 2, 3, 4, 5];
const keyLabel = (fifths: number) => keyName(fifths).replace(" major", "");
const PATTERNS = {
  major: "major scale",
  "five-note": "five notes",
  thirds: "in thirds",
  "1-5-1": "1-5-1",
  "falling-intervals": "8-7, 8-6 … 8-1",
};
const SIGNS = ["plain", "accent", "staccato", "marcato", "tenuto"] as const;

interface Props {
  block: Block;
  change: (block: Block) => void;
}

/** The settings of one block: those of its family, then tempo and cues. */
export function BlockSettings({ block, change }: Props) {
  const set = (changes: object) => change({ ...block, ...changes } as Block);
  const numbers = block as unknown as Record<string, number>;
  const count = (name: keyof typeof LIMITS, label: string) => {
    const [least, most] = LIMITS[name];
    return (
      <Count
        label={label}
        value={numbers[name]!}
        least={least}
        most={name === "steps" ? (MOST_STEPS[block.family] ?? most) : most}
        change={(value) => set({ [name]: value })}
      />
    );
  };
  const pick = <T extends string>(name: string, label: string, options: Partial<Record<T, string>>) => (
    <Pick
      label={label}
      value={String((block as unknown as Record<string, unknown>)[name]) as T}
      options={options}
      choose={(value) => set({ [name]: value })}
    />
  );
  const concertKey = (fifths: number) => (
    <Pick
      label="Concert key"
      value={String(fifths)}
      options={Object.fromEntries(KEYS.map((key) => [String(key), keyLabel(key)]))}
      choose={(value) => set({ fifths: Number(value) })}
    />
  );
  const octaves = (number: 1 | 2) => (
    <Pick
      label="Octaves"
      value={String(number) as "1" | "2"}
      options={{ "1": "1", "2": "2 where they lie" }}
      choose={(value) => set({ octaves: Number(value) })}
    />
  );
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap items-end gap-3">{familyFields()}</div>
      <div className="flex flex-wrap items-end gap-3">
        <TempoFields block={block} set={set} />
        <label className="flex h-10 items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={block.cues}
            onChange={(event) => set({ cues: event.target.checked })}
          />
          valves and positions under the notes
        </label>
      </div>
    </div>
  );

  function familyFields() {
    switch (block.family) {
      case "breathing":
        return (
          <>
            {count("waitCounts", "Wait, counts")}
            {count("inCounts", "In")}
            {count("outCounts", "Blow")}
            {count("rounds", "Times")}
          </>
        );
      case "first-sounds":
        return (
          <>
            {pick("sound", "Sound", { steady: "one steady sound", siren: "siren", short: "short sounds" })}
            {count("countsOn", "Counts on")}
            {count("countsOff", "Counts off")}
            {count("rounds", "Times")}
          </>
        );
      case "long-tones":
        return (
          <>
            {concertKey(block.fifths)}
            <Pick
              label="Notes of the scale"
              value={block.degrees.join("-")}
              options={{
                "5-4-3-2-1": "5-4-3-2-1",
                "5-3-1": "5-3-1",
                "1": "1",
                "5-1": "5-1",
                "1-2-3-4-5": "1-2-3-4-5",
                "8-7-6-5-4-3-2-1": "8 down to 1",
                [block.degrees.join("-")]: block.degrees.join("-"),
              }}
              choose={(value) => set({ degrees: value.split("-").map(Number) })}
            />
            {count("countsOn", "Counts on")}
            {count("countsOff", "Counts off")}
            {pick("others", "While brass rests", { rest: "all rest", again: "the others hold again" })}
            {count("rounds", "Times")}
          </>
        );
      case "range-steps":
        return (
          <>
            {pick("direction", "Direction", UP_DOWN)}
            {count("steps", "Semitones")}
            {count("countsOn", "Counts on")}
            {count("countsOff", "Counts off")}
          </>
        );
      case "chromatic-descent":
        return (
          <>
            {pick("from", "From concert", NOTES)}
            {count("steps", "Steps")}
            {pick("value", "Notes", VALUES)}
            {pick("tonguing", "Played", TONGUING)}
          </>
        );
      case "slurs":
        return (
          <>
            {pick("direction", "Brass slurs", { down: "F down to B♭", up: "B♭ up to F" })}
            {count("steps", "Steps down the tubes")}
            <Boxes
              label="Notes"
              all={["whole", "half", "quarter", "eighth"]}
              chosen={block.values}
              choose={(values) => set({ values })}
            />
            {count("countsOff", "Counts off")}
          </>
        );
      case "articulation":
        return (
          <>
            {pick("note", "On concert", NOTES)}
            <Boxes label="Styles" all={SIGNS} chosen={block.signs} choose={(signs) => set({ signs })} />
            {pick("value", "Notes", VALUES)}
            {count("countsEach", "Counts each")}
            {count("rounds", "Times")}
          </>
        );
      case "tonguing":
        return (
          <>
            {pick("note", "On concert", NOTES)}
            {pick("drill", "Drill", {
              "one-breath": "one unbroken breath",
              "stopped-air": "air stopped by the tongue",
              "released-air": "air let go by the tongue",
            })}
            <Boxes
              label="Notes"
              all={["half", "quarter", "eighth", "16th"]}
              chosen={block.values}
              choose={(values) => set({ values })}
            />
            {count("rounds", "Times")}
          </>
        );
      case "scales":
        return (
          <>
            <Boxes
              label="Concert keys, in this order"
              all={KEYS.map(String)}
              names={Object.fromEntries(KEYS.map((key) => [String(key), keyLabel(key)]))}
              chosen={block.keys.map(String)}
              choose={(keys) => set({ keys: keys.map(Number) })}
            />
            {pick("pattern", "Pattern", PATTERNS)}
            {octaves(block.octaves)}
            {pick("rhythm", "Rhythm", {
              half: "halves",
              quarter: "quarters",
              eighth: "eighths",
              "quarter-and-eighth": "quarter and eighths",
            })}
            {pick("direction", "Direction", DIRECTIONS)}
            {pick("tonguing", "Played", TONGUING)}
            {count("countsOff", "Rest after")}
            {count("repeats", "Times")}
          </>
        );
      case "half-step-cycle":
        return (
          <>
            {pick("from", "From concert", NOTES)}
            {pick("pattern", "Pattern", { "1-5-1": "1-5-1", "falling-intervals": "8-7, 8-6 … 8-1" })}
            {pick("direction", "Direction", UP_DOWN)}
            {count("steps", "Steps")}
            {pick("tonguing", "Played", TONGUING)}
            {count("countsOff", "Rest after")}
          </>
        );
      case "chromatic-scale":
        return (
          <>
            {pick("from", "From concert", NOTES)}
            {octaves(block.octaves)}
            {pick("value", "Notes", VALUES)}
            {pick("direction", "Direction", DIRECTIONS)}
            {pick("tonguing", "Played", TONGUING)}
          </>
        );
      case "chorale":
        return (
          <>
            {concertKey(block.fifths)}
            {pick("voices", "Voices", { harmony: "four voices by balance", unison: "all on the melody" })}
            {count("rounds", "Times")}
          </>
        );
    }
  }
}

function TempoFields({ block, set }: { block: Block; set: (changes: object) => void }) {
  const { tempo } = block;
  const [least, most] = LIMITS.bpm;
  return (
    <>
      <Pick
        label="Tempo"
        value={tempo.kind}
        options={{ fixed: "one tempo", ladder: "a ladder", piece: "the piece of the day" }}
        choose={(kind) => {
          const bpm = tempo.kind === "fixed" ? tempo.bpm : tempo.kind === "ladder" ? tempo.bpms[0]! : 80;
          set({
            tempo:
              kind === "fixed"
                ? { kind, bpm }
                : kind === "ladder"
                  ? { kind, bpms: [bpm, Math.min(most, bpm + 30)] }
                  : { kind },
          });
        }}
      />
      {tempo.kind === "fixed" && (
        <Count
          label="Beats a minute"
          value={tempo.bpm}
          least={least}
          most={most}
          change={(bpm) => set({ tempo: { kind: "fixed", bpm } })}
        />
      )}
      {tempo.kind === "ladder" &&
        tempo.bpms.map((bpm, i) => (
          <Count
            key={i}
            label={`Rung ${i + 1}`}
            value={bpm}
            least={least}
            most={most}
            change={(value) => set({ tempo: { kind: "ladder", bpms: tempo.bpms.with(i, value) } })}
          />
        ))}
      {tempo.kind === "ladder" && (
        <div className="flex gap-1">
          <button
            type="button"
            className="btn btn-sm border-base-300 bg-base-100"
            disabled={tempo.bpms.length >= 6}
            onClick={() =>
              set({
                tempo: { kind: "ladder", bpms: [...tempo.bpms, Math.min(most, tempo.bpms.at(-1)! + 20)] },
              })
            }
          >
            One rung more
          </button>
          <button
            type="button"
            className="btn btn-sm border-base-300 bg-base-100"
            disabled={tempo.bpms.length <= 1}
            onClick={() => set({ tempo: { kind: "ladder", bpms: tempo.bpms.slice(0, -1) } })}
          >
            One less
          </button>
        </div>
      )}
    </>
  );
}

/** Several of a few, in the order in which they are chosen. */
function Boxes<T extends string>({
  label,
  all,
  names,
  chosen,
  choose,
}: {
  label: string;
  all: readonly T[];
  names?: Record<string, string>;
  chosen: readonly T[];
  choose: (chosen: T[]) => void;
}) {
  return (
    <fieldset>
      <legend className="text-sm font-bold">{label}</legend>
      <div className="flex min-h-10 flex-wrap items-center gap-x-3 gap-y-1">
        {all.map((each) => {
          const place = chosen.indexOf(each);
          return (
            <label key={each} className="flex items-center gap-1 text-sm">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={place >= 0}
                onChange={() =>
                  choose(place >= 0 ? chosen.filter((other) => other !== each) : [...chosen, each])
                }
              />
              {names?.[each] ?? each}
              {place >= 0 && chosen.length > 1 && (
                <span className="text-quiet" aria-hidden="true">
                  {place + 1}.
                </span>
              )}
            </label>
          );
        })}
      </div>
    </fieldset>
  );
}
