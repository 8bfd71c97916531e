import { useState } from "react";
import { type CountingSystem, type Form, formId, gradeOf, seedOf } from "../../core/rhythm";
import { Pick } from "../../ui/Pick";
import { useReady } from "../../ui/use-ready";
import { COUNTING_NAMES } from "../../ui/wording";
import { Clapping } from "./Clapping";
import { DeviceDelay } from "./DeviceDelay";
import { Dictation } from "./Dictation";
import { Filling } from "./Filling";
import { Mistake } from "./Mistake";
import { Starting } from "./Starting";
import type { Way } from "./use-turn";

type Kind = keyof typeof COUNTING_NAMES;

interface Props {
  forms: Form[];
  bpm: number;
  loops: number;
  system: CountingSystem;
  seed: number;
  /** What came of an activity, to be kept. */
  result?: ((activity: string, right: number, of: number) => void) | undefined;
}

/** Work with one bar after another: six ways, all with click, visible beat and count-off. */
export function Activities({ forms, bpm: marked, loops, system, seed, result }: Props) {
  const ready = useReady();
  const [kind, setKind] = useState<Kind>("read");
  const [place, setPlace] = useState(0);
  const [bpm, setBpm] = useState(marked);
  const [way, setWay] = useState<Way>("tap");
  const [syllables, setSyllables] = useState(true);
  const form = forms[Math.min(place, forms.length - 1)];
  if (!form) return <p>There is no bar on this page.</p>;
  const go = (by: number) => setPlace((place + by + forms.length) % forms.length);
  const told = (right: number, of: number) => result?.(kind, right, of);
  const shared = { form, bpm, loops, way, system, syllables, seed: seedOf(form, seed), ready, told };
  return (
    <section className="panel flex flex-col gap-4 p-4" aria-label="Activities">
      <div className="flex flex-wrap items-end gap-3">
        <Pick label="What to do" value={kind} options={COUNTING_NAMES} choose={setKind} />
        {(kind === "read" || kind === "echo") && (
          <Pick
            label="With"
            value={way}
            options={{ tap: "space bar or screen", clap: "claps, by microphone" }}
            choose={setWay}
          />
        )}
        <label className="flex flex-col text-sm font-bold">
          Tempo
          <span className="flex h-10 items-center gap-2 font-normal">
            <input
              type="range"
              className="range range-sm w-32"
              min={40}
              max={160}
              value={bpm}
              onChange={(event) => setBpm(Number(event.target.value))}
              aria-valuetext={`${bpm} beats a minute`}
            />
            {bpm} bpm
          </span>
        </label>
        <label className="flex h-10 items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={syllables}
            onChange={(event) => setSyllables(event.target.checked)}
          />
          syllables ({system.name})
        </label>
      </div>
      <div className="flex flex-wrap items-center gap-3">
        <button type="button" className="btn h-11 border-base-300 bg-base-100" onClick={() => go(-1)}>
          ← Bar before
        </button>
        <p className="flex-1 text-center">
          Bar {place + 1} of {forms.length} · grade {gradeOf(form).grade}
        </p>
        <button type="button" className="btn h-11 border-base-300 bg-base-100" onClick={() => go(1)}>
          Next bar →
        </button>
      </div>
      {kind === "read" && <Clapping key={`read ${formId(form)}`} {...shared} seen />}
      {kind === "echo" && <Clapping key={`echo ${formId(form)}`} {...shared} seen={false} />}
      {kind === "dictation" && <Dictation key={formId(form)} {...shared} />}
      {kind === "fill" && <Filling key={formId(form)} {...shared} />}
      {kind === "mistake" && <Mistake key={formId(form)} {...shared} />}
      {kind === "start" && <Starting key={formId(form)} {...shared} />}
      {(kind === "read" || kind === "echo") && <DeviceDelay way={way} />}
    </section>
  );
}
