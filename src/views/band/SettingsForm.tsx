import { useMemo, useState } from "react";
import { call } from "../../client/api";
import { STAGES, type Stage } from "../../core/music";
import type { Weekday } from "../../core/plan";
import type { Kept, SettingsView } from "../../services/settings/schema";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { useCall } from "../../ui/use-call";
import { useLeaving } from "../../ui/use-leaving";
import { useReady } from "../../ui/use-ready";
import { STAGE_NAMES } from "../../ui/wording";
import { MarkingSettings } from "./MarkingSettings";
import { PracticeSettings } from "./PracticeSettings";
import { Choice, input, NumberSetting, Section, Setting, Tick } from "./settings-parts";

const NAMING_NAMES = {
  letters: "letter names (B♭, C, D)",
  solfege: "solfège, movable do (do, re, mi)",
  numbers: "scale numbers (1, 2, 3)",
};

/** Everything the band decides for itself, each with what it changes. */
export function SettingsForm({ data }: { data: Packed<SettingsView> }) {
  const first = useMemo(() => unpacked(data), [data]);
  const [kept, setKept] = useState(first);
  const [now, setNow] = useState(first);
  const [saved, setSaved] = useState("");
  const { busy, problem, fields, run } = useCall();
  const ready = useReady();
  const set = (change: Partial<SettingsView>) => {
    setSaved("");
    setNow({ ...now, ...change });
  };
  const setJudging = (stage: Stage, change: Partial<SettingsView["judging"][Stage]>) =>
    set({ judging: { ...now.judging, [stage]: { ...now.judging[stage], ...change } } });
  const changes = changed(kept, now);
  const unsaved = Object.keys(changes).length > 0;
  useLeaving(unsaved);
  const doubt = fields.sure !== undefined;
  const save = async (sure: boolean) => {
    const was = changed(now, kept);
    const holds = await run(
      () => call<SettingsView>("PUT", "/api/band/settings", { ...changes, was, sure }),
      "The settings could not be saved.",
    );
    if (!holds) return;
    setKept(holds);
    // What was typed while it was being saved stays.
    setNow((typed) => ({ ...holds, ...differing(now, typed) }));
    setSaved("Saved.");
  };
  return (
    <form
      className="flex max-w-4xl flex-col gap-4"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        if (unsaved || doubt) void save(doubt);
        else setSaved("Nothing was changed.");
      }}
    >
      <Section title="The band">
        <Setting label="Name" says="Stands on cards and pages." problem={fields.name}>
          <input
            className={`${input} w-72`}
            value={now.name}
            maxLength={120}
            onChange={(event) => set({ name: event.target.value })}
          />
        </Setting>
        <Setting label="Town" says="Beside the name." problem={fields.town}>
          <input
            className={`${input} w-72`}
            value={now.town}
            maxLength={120}
            onChange={(event) => set({ town: event.target.value })}
          />
        </Setting>
        <Setting
          label="Time zone"
          says="What day it is, and when something is due."
          problem={fields.timeZone}
        >
          <select
            className="select select-sm w-auto border-neutral font-normal"
            value={now.timeZone}
            onChange={(event) => set({ timeZone: event.target.value })}
          >
            {[...new Set([now.timeZone, ...now.zones])].map((zone) => (
              <option key={zone}>{zone}</option>
            ))}
          </select>
        </Setting>
        <Setting label="Paper" says="The size printed pages are made for.">
          <Choice
            value={now.paper}
            options={{ a4: "A4", letter: "Letter" }}
            choose={(paper) => set({ paper })}
          />
        </Setting>
      </Section>

      <Section title="How takes are judged">
        <NumberSetting
          label="A is tuned to"
          says="What every pitch is measured from, in Hz."
          problem={fields.a4Hz}
          min={415}
          max={466}
          step={0.5}
          value={now.a4Hz}
          set={(a4Hz) => set({ a4Hz })}
        />
        <div className="py-2">
          <table className="text-sm">
            <caption className="pb-1 text-left text-quiet">
              In tune: beads stay on the string. In time: no word of early or late. New takes are heard by it.
            </caption>
            <thead>
              <tr>
                <th className="pr-4 text-left">Stage</th>
                <th className="pr-4 text-left">In tune within, cents</th>
                <th className="text-left">In time within, ms</th>
              </tr>
            </thead>
            <tbody>
              {STAGES.map((stage) => (
                <tr key={stage}>
                  <th scope="row" className="pr-4 text-left font-normal">
                    {STAGE_NAMES[stage]}
                  </th>
                  {(["inTuneCents", "inTimeMs"] as const).map((what) => (
                    <td key={what} className="py-0.5 pr-4">
                      <input
                        type="number"
                        className={`${input} w-24`}
                        aria-label={`${STAGE_NAMES[stage]}: ${what === "inTuneCents" ? "in tune, cents" : "in time, ms"}`}
                        value={now.judging[stage][what]}
                        onChange={(event) => setJudging(stage, { [what]: Number(event.target.value) })}
                      />
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          {Object.entries(fields).some(([name]) => name.startsWith("judging")) && (
            <p className="text-sm font-bold text-felt">
              {Object.entries(fields).find(([name]) => name.startsWith("judging"))?.[1]}
            </p>
          )}
        </div>
      </Section>

      <MarkingSettings {...{ now, set, fields }} />

      <Section title="How the band learns">
        <Setting
          label="Notes are called by"
          says="When names are called with a line, here and on the players' stands."
        >
          <Choice value={now.naming} options={NAMING_NAMES} choose={(naming) => set({ naming })} />
        </Setting>
        <NumberSetting
          label="Weeks of making a sound"
          says="After so many the bench proposes the five notes; a note heard right ends them sooner."
          problem={fields.soundWeeks}
          min={0}
          max={20}
          value={now.soundWeeks}
          set={(soundWeeks) => set({ soundWeeks })}
        />
        <Tick
          on={now.cardsFirst}
          set={(cardsFirst) => set({ cardsFirst })}
          label="Cards instead of playing in these weeks"
          says="Who is making a sound gets a line as note cards: name and fingering, nothing to record."
        />
      </Section>

      <PracticeSettings now={now} set={set} fields={fields} />

      <Section title="Days and minutes">
        <Tick
          on={now.weekendsOff}
          set={(weekendsOff) => set({ weekendsOff })}
          label="Weekends are off"
          says="Nothing is due on a Saturday or Sunday unless you say so."
        />
        <Setting
          label="School is on"
          says="Days of the ribbon; cycles of classes are counted over them."
          problem={fields.schoolWeek}
        >
          <span className="flex gap-1">
            {["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"].map((name, i) => {
              const day = (i + 1) as Weekday;
              const on = now.schoolWeek.includes(day);
              return (
                <button
                  key={name}
                  type="button"
                  aria-pressed={on}
                  className={`btn btn-sm px-2 ${on ? "btn-primary" : "border-base-300 bg-base-100 font-normal"}`}
                  onClick={() =>
                    set({
                      schoolWeek: on
                        ? now.schoolWeek.filter((each) => each !== day)
                        : [...now.schoolWeek, day].sort(),
                    })
                  }
                >
                  {name}
                </button>
              );
            })}
          </span>
        </Setting>
        <NumberSetting
          label="Minutes at home"
          says="What a day of home work holds on the ribbon; more than that is told."
          problem={fields.homeMinutes}
          min={5}
          max={120}
          value={now.homeMinutes}
          set={(homeMinutes) => set({ homeMinutes })}
        />
        <NumberSetting
          label="Minutes between two blocks"
          says="Books, reeds, mallets: counted between the strips of a class."
          problem={fields.changeoverMinutes}
          min={0}
          max={10}
          value={now.changeoverMinutes}
          set={(changeoverMinutes) => set({ changeoverMinutes })}
        />
        <DaysOff days={now.daysOff} set={(daysOff) => set({ daysOff })} />
        {Object.entries(fields)
          .filter(([name]) => name.startsWith("daysOff"))
          .map(([name, text]) => (
            <p key={name} className="text-sm font-bold text-felt">
              {text}
            </p>
          ))}
      </Section>

      <Section title="Who hears, and how long">
        <fieldset className="py-2">
          <legend className="font-bold">Directors who may hear the players' takes</legend>
          <p className="text-sm text-quiet">
            Players see these names beside the record button. Follow your school's rules.
          </p>
          {now.directors.map((each) => (
            <label key={each.userId} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={each.mayHear}
                onChange={(event) =>
                  set({
                    directors: now.directors.map((other) =>
                      other.userId === each.userId ? { ...other, mayHear: event.target.checked } : other,
                    ),
                  })
                }
              />
              {each.name}
            </label>
          ))}
        </fieldset>
        <Tick
          on={now.hearFirst}
          set={(hearFirst) => set({ hearFirst })}
          label="Heard before it is accepted"
          says="In Listen a take is accepted after it played, or after one of its findings was opened."
        />
        <Tick
          on={now.release === "together"}
          set={(together) => set({ release: together ? "together" : "at-once" })}
          label="Answers are released together"
          says="Players see your words and marks when you release them in Listen, not one by one."
        />
        <Setting
          label="The bench is believed"
          says="A kind of finding that is right less often than this, by your ear, gets no ready sentence any more. 0 believes everything."
          problem={fields.trustPercent}
        >
          <span className="flex items-center gap-2">
            from
            <input
              type="number"
              aria-label="Percent in which the bench has to be right"
              className={`${input} w-20`}
              min={0}
              max={99}
              value={now.trustPercent}
              onChange={(event) => set({ trustPercent: Number(event.target.value) })}
            />
            % right
          </span>
        </Setting>
        <Setting
          label="Sounds are kept"
          says="Older recordings are erased, every one noted; verdicts, marks and your words stay."
          problem={fields.retentionWeeks}
        >
          <span className="flex items-center gap-2">
            <Choice
              value={now.retentionWeeks === null ? "always" : "weeks"}
              options={{ always: "until somebody erases them", weeks: "for so many weeks:" }}
              choose={(keep) => set({ retentionWeeks: keep === "always" ? null : 52 })}
            />
            {now.retentionWeeks !== null && (
              <input
                type="number"
                aria-label="Weeks that sounds are kept"
                className={`${input} w-20`}
                min={1}
                max={520}
                value={now.retentionWeeks}
                onChange={(event) => set({ retentionWeeks: Number(event.target.value) })}
              />
            )}
          </span>
        </Setting>
      </Section>
      <div className="sticky bottom-0 flex items-center gap-3 bg-base-200 py-3">
        <button type="submit" className="btn btn-primary" disabled={!ready || busy}>
          {doubt ? "Keep what stands here" : "Save the settings"}
        </button>
        {doubt && (
          <a className="btn border-base-300 bg-base-100" href="/band/settings" target="_blank" rel="noopener">
            Look at what holds now
          </a>
        )}
        <output className="font-bold text-done">{saved}</output>
        {unsaved && !problem && <span className="text-sm text-quiet">Not saved yet.</span>}
        <Problem text={problem} />
      </div>
    </form>
  );
}

/** What differs from one state of the page in another, by field, as the other has it. */
function differing(from: SettingsView, to: SettingsView): Partial<SettingsView> {
  const same = (field: keyof SettingsView) =>
    from[field] === to[field] || JSON.stringify(from[field]) === JSON.stringify(to[field]);
  return Object.fromEntries(
    (Object.keys(to) as (keyof SettingsView)[]).flatMap((field) => (same(field) ? [] : [[field, to[field]]])),
  );
}

/** The same as a request has it. */
function changed(from: SettingsView, to: SettingsView): Partial<Kept> {
  const { directors, zones: _zones, classCode: _code, ...rest } = differing(from, to);
  return directors
    ? { ...rest, hearing: directors.filter(({ mayHear }) => mayHear).map(({ userId }) => userId) }
    : rest;
}

function DaysOff({
  days,
  set,
}: {
  days: SettingsView["daysOff"];
  set: (days: SettingsView["daysOff"]) => void;
}) {
  const input = "input input-sm w-auto border-neutral";
  const change = (at: number, part: Partial<SettingsView["daysOff"][number]>) =>
    set(days.map((each, i) => (i === at ? { ...each, ...part } : each)));
  return (
    <div className="flex flex-col gap-2 py-2">
      {days.map((each, at) => (
        <div key={at} className="flex flex-wrap items-center gap-2 text-sm">
          <input
            type="date"
            aria-label="First day off"
            className={input}
            value={each.from}
            onChange={(event) => change(at, { from: event.target.value })}
          />
          to
          <input
            type="date"
            aria-label="Last day off"
            className={input}
            value={each.to}
            onChange={(event) => change(at, { to: event.target.value })}
          />
          <input
            className={`${input} w-48`}
            aria-label="Name of the days off"
            placeholder="Winter holidays"
            value={each.name}
            maxLength={80}
            onChange={(event) => change(at, { name: event.target.value })}
          />
          <button
            type="button"
            className="btn btn-ghost btn-sm"
            onClick={() => set(days.filter((_, i) => i !== at))}
          >
            Take out
          </button>
        </div>
      ))}
      <button
        type="button"
        className="btn btn-sm self-start border-base-300 bg-base-100"
        onClick={() => set([...days, { from: "", to: "", name: "" }])}
      >
        Add days off
      </button>
    </div>
  );
}
