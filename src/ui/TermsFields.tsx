import { useState } from "react";
import { PRACTICE_STEPS, type Terms } from "../core/practice";
import { FASTEST_BPM, SLOWEST_BPM, STYLES, type StyleRange } from "../core/score";
import { Marked } from "./Marked";
import { HELD_NAMES, STEP_NAMES } from "./wording";

interface Props {
  terms: Terms;
  change: (terms: Terms) => void;
  /** Printed numbers of its bars; nothing is asked by bars where there are none. */
  bars: readonly string[];
  /** The last and first bar that are asked for, by index. */
  range: readonly [number, number];
  goalBpm: number;
  /** The problem of a field, by its name. */
  problemOf: (name: string) => string | undefined;
}

const NUMBER = "input input-sm w-20 border-neutral";

/** How something is given: how it is played, what is recorded, what is marked. */
export function TermsFields({ terms, change, bars, range, goalBpm, problemOf }: Props) {
  const set = (part: Partial<Terms>) => change({ ...terms, ...part });
  return (
    <div className="flex flex-col gap-3 text-sm">
      <fieldset className="flex flex-col gap-2">
        <legend className="font-bold">How it is played</legend>
        <Tick on={!terms.withoutRepeats} set={(on) => set({ withoutRepeats: !on })}>
          with the repeats
        </Tick>
        <span className="flex items-center gap-2">
          counts from
          <NumberWithin
            label="Lowest tempo that counts"
            value={terms.lowestBpm}
            least={SLOWEST_BPM}
            most={FASTEST_BPM}
            set={(lowestBpm) => set({ lowestBpm })}
            none={() => set({ lowestBpm: null })}
          />
          bpm on
        </span>
        <Problem text={problemOf("lowestBpm")} />
        <div className="flex flex-wrap items-center gap-2">
          <Tick
            on={terms.ladder !== null}
            set={(on) =>
              set({ ladder: on ? { fromBpm: Math.max(SLOWEST_BPM, goalBpm - 20), stepBpm: 5 } : null })
            }
          >
            climb by a ladder
          </Tick>
          {terms.ladder && (
            <>
              from
              <NumberWithin
                label="First tempo of the ladder"
                value={terms.ladder.fromBpm}
                least={SLOWEST_BPM}
                most={FASTEST_BPM}
                set={(fromBpm) => set({ ladder: { ...terms.ladder!, fromBpm } })}
              />
              by
              <NumberWithin
                label="Beats a minute each time"
                value={terms.ladder.stepBpm}
                least={1}
                most={40}
                set={(stepBpm) => set({ ladder: { ...terms.ladder!, stepBpm } })}
              />
            </>
          )}
        </div>
        <Problem text={problemOf("ladder") ?? problemOf("ladder.fromBpm") ?? problemOf("ladder.stepBpm")} />
        {bars.length > 0 && <Styles {...{ terms, set, bars, range }} />}
        <Problem text={problemOf("styles")} />
        <span className="flex items-center gap-2">
          <NumberWithin
            label="Minutes each time"
            value={terms.minutes}
            least={1}
            most={60}
            set={(minutes) => set({ minutes })}
            none={() => set({ minutes: null })}
          />
          minutes each time
        </span>
        <Problem text={problemOf("minutes")} />
      </fieldset>
      <Sight terms={terms} set={set} />
      <Problem text={problemOf("sight") ?? problemOf("sight.lookSec")} />
      <Recorded {...{ terms, set, bars, range }} />
      <Problem text={problemOf("record")} />
      <Steps terms={terms} set={set} />
      <Marked terms={terms} set={set} />
      <div className="flex flex-wrap gap-4">
        <Tick on={terms.test} set={(test) => set({ test })}>
          counts as a test
        </Tick>
        <Tick on={terms.extra} set={(extra) => set({ extra })}>
          extra, for who wants more
        </Tick>
      </div>
    </div>
  );
}

interface PartProps {
  terms: Terms;
  set: (part: Partial<Terms>) => void;
}
type BarProps = PartProps & Pick<Props, "bars" | "range">;

function Tick({ on, set, children }: { on: boolean; set: (on: boolean) => void; children: string }) {
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={on}
        onChange={(event) => set(event.target.checked)}
      />
      {children}
    </label>
  );
}

/**
 * A number within its limits. What is typed stays in the field; only what is within them goes on, so that half a number on its
 * way to a whole one changes nothing.
 */
function NumberWithin({
  label,
  value,
  least,
  most,
  set,
  none,
}: {
  label: string;
  value: number | null;
  least: number;
  most: number;
  set: (value: number) => void;
  /** What an empty field says, where it may be empty. */
  none?: () => void;
}) {
  const [typed, setTyped] = useState(value === null ? "" : String(value));
  const number = Number(typed);
  const fits =
    typed === "" ? none !== undefined : Number.isInteger(number) && number >= least && number <= most;
  return (
    <>
      <input
        type="number"
        aria-label={label}
        aria-invalid={!fits}
        className={NUMBER}
        placeholder={none ? "any" : ""}
        value={typed}
        onChange={({ target: { value: now } }) => {
          setTyped(now);
          const next = Number(now);
          if (now === "") none?.();
          else if (Number.isInteger(next) && next >= least && next <= most) set(next);
        }}
      />
      {!fits && (
        <span className="font-bold text-felt">
          {least} to {most}
        </span>
      )}
    </>
  );
}

function Problem({ text }: { text: string | undefined }) {
  return text ? <p className="font-bold text-felt">{text}</p> : null;
}

function FromTo({
  what,
  first,
  last,
  bars,
  range,
  choose,
}: Pick<Props, "bars" | "range"> & {
  what: string;
  first: number;
  last: number;
  choose: (first: number, last: number) => void;
}) {
  const options = bars.flatMap((number, index) =>
    index >= range[0] && index <= range[1]
      ? [
          <option key={index} value={index}>
            {number}
          </option>,
        ]
      : [],
  );
  return (
    <span className="flex items-center gap-1">
      bars
      <select
        aria-label={`${what} from bar`}
        className="select select-sm w-18 border-neutral"
        value={first}
        onChange={(event) => choose(Number(event.target.value), Math.max(last, Number(event.target.value)))}
      >
        {options}
      </select>
      to
      <select
        aria-label={`${what} to bar`}
        className="select select-sm w-18 border-neutral"
        value={last}
        onChange={(event) => choose(Math.min(first, Number(event.target.value)), Number(event.target.value))}
      >
        {options}
      </select>
    </span>
  );
}

/** Short, smooth, held ends: each over some bars. */
function Styles({ terms, set, bars, range }: BarProps) {
  const put = (index: number, style: StyleRange | null) =>
    set({ styles: terms.styles.flatMap((each, i) => (i === index ? (style ?? []) : each)) });
  return (
    <div className="flex flex-col gap-1">
      {terms.styles.map((each, index) => (
        <div key={index} className="flex flex-wrap items-center gap-2">
          <select
            aria-label="How the notes are held"
            className="select select-sm w-auto border-neutral"
            value={each.style}
            onChange={(event) => put(index, { ...each, style: event.target.value as StyleRange["style"] })}
          >
            {STYLES.map((style) => (
              <option key={style} value={style}>
                {HELD_NAMES[style]}
              </option>
            ))}
          </select>
          <FromTo
            what="Held so"
            first={each.firstBar}
            last={each.lastBar}
            {...{ bars, range }}
            choose={(firstBar, lastBar) => put(index, { ...each, firstBar, lastBar })}
          />
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => put(index, null)}>
            remove
          </button>
        </div>
      ))}
      <button
        type="button"
        className="btn btn-xs w-fit border-base-300 bg-base-100"
        onClick={() =>
          set({ styles: [...terms.styles, { style: "smooth", firstBar: range[0], lastBar: range[1] }] })
        }
      >
        Short, smooth or held ends …
      </button>
    </div>
  );
}

function Recorded({ terms, set, bars, range }: BarProps) {
  const { record } = terms;
  return (
    <fieldset className="flex flex-wrap items-center gap-2">
      <legend className="font-bold">What is recorded</legend>
      <select
        aria-label="What is recorded"
        className="select select-sm w-auto border-neutral"
        value={record.kind}
        onChange={(event) => {
          const kind = event.target.value as Terms["record"]["kind"];
          set({ record: kind === "bars" ? { kind, firstBar: range[0], lastBar: range[1] } : { kind } });
        }}
      >
        <option value="all">all of it</option>
        {bars.length > 1 && <option value="bars">some bars of it</option>}
        <option value="nothing">nothing; the player says when it is done</option>
      </select>
      {record.kind === "bars" && (
        <FromTo
          what="Recorded"
          first={record.firstBar}
          last={record.lastBar}
          {...{ bars, range }}
          choose={(firstBar, lastBar) => set({ record: { kind: "bars", firstBar, lastBar } })}
        />
      )}
    </fieldset>
  );
}

/** Unseen until it is opened, looked at so long, recorded once: then there is nothing to climb and nothing to be led through. */
function Sight({ terms, set }: PartProps) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      <Tick
        on={terms.sight !== null}
        set={(on) =>
          set(
            on
              ? { sight: { lookSec: USUAL_LOOK_SEC }, ladder: null, steps: null, record: { kind: "all" } }
              : { sight: null },
          )
        }
      >
        to be read at sight, once
      </Tick>
      {terms.sight && (
        <>
          after a look of
          <NumberWithin
            label="Seconds to look"
            value={terms.sight.lookSec}
            least={10}
            most={300}
            set={(lookSec) => set({ sight: { lookSec } })}
          />
          seconds
        </>
      )}
    </div>
  );
}

/** A look before a line is read at sight, seconds: half a minute (from memory of playing tests). */
const USUAL_LOOK_SEC = 30;

/** The steps a player is led through, in the order they are chosen; one may come twice. */
function Steps({ terms, set }: PartProps) {
  const chosen = terms.steps ?? [];
  return (
    <fieldset>
      <legend className="font-bold">Steps the player sees</legend>
      {chosen.length > 0 && (
        <ol className="mb-1 flex flex-wrap gap-1">
          {chosen.map((step, index) => (
            <li key={index}>
              <button
                type="button"
                className="btn btn-xs border-accent bg-reed"
                aria-label={`Step ${index + 1}: ${STEP_NAMES[step]}. Take it out`}
                onClick={() => {
                  const left = chosen.filter((_, i) => i !== index);
                  set({ steps: left.length > 0 ? left : null });
                }}
              >
                {index + 1}. {STEP_NAMES[step]} ×
              </button>
            </li>
          ))}
        </ol>
      )}
      <select
        aria-label="Add a step"
        className="select select-sm w-auto border-neutral"
        value=""
        onChange={(event) =>
          event.target.value && set({ steps: [...chosen, event.target.value as (typeof chosen)[number]] })
        }
      >
        <option value="">{chosen.length === 0 ? "none said; add one …" : "add another …"}</option>
        {PRACTICE_STEPS.map((step) => (
          <option key={step} value={step}>
            {STEP_NAMES[step]}
          </option>
        ))}
      </select>
    </fieldset>
  );
}
