import { useEffect, useMemo, useState } from "react";
import { call } from "../../client/api";
import type { MeetingPattern, Weekday } from "../../core/plan";
import type { CalendarView } from "../../services/week/schema";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { useCall } from "../../ui/use-call";
import { HolidayFile, SharedAddress } from "./CalendarFiles";

const DAYS: readonly [Weekday, string][] = [
  [1, "Mon"],
  [2, "Tue"],
  [3, "Wed"],
  [4, "Thu"],
  [5, "Fri"],
  [6, "Sat"],
  [7, "Sun"],
];
const small = "input input-sm w-auto border-neutral";
/** Wide enough for "09:40 AM" and its button. */
const clock = "input input-sm w-36 border-neutral";
const pick = "select select-sm w-auto border-neutral font-normal";
const DRAFT = "calendar-draft";

/** The school year in one form: terms, meetings with single changes, short days, concerts and tests. */
export function CalendarDesk({ data, origin }: { data: Packed<CalendarView>; origin: string }) {
  const first = useMemo(() => unpacked(data), [data]);
  const [now, setNow] = useState(first);
  const [saved, setSaved] = useState(first);
  const [said, setSaid] = useState("");
  const { busy, problem, fields, run } = useCall();
  // What was typed and not saved is there again after a reload.
  useEffect(() => {
    const draft = sessionStorage.getItem(DRAFT);
    if (!draft) return;
    try {
      const typed = JSON.parse(draft) as CalendarView;
      if (typed.version === first.version) setNow({ ...first, ...typed });
      else sessionStorage.removeItem(DRAFT);
    } catch {
      sessionStorage.removeItem(DRAFT);
    }
  }, [first]);
  const set = (part: Partial<CalendarView>) => {
    const next = { ...now, ...part };
    setNow(next);
    setSaid("");
    sessionStorage.setItem(DRAFT, JSON.stringify(next));
  };
  const save = async () => {
    const { version, terms, shortDays, meetings, changes, goals } = now;
    const done = await run(
      () =>
        call<{ version: number }>("PUT", "/api/calendar", {
          version,
          terms,
          shortDays,
          meetings,
          changes,
          goals,
        }),
      "The calendar could not be saved. Try again in a moment.",
    );
    if (!done) return;
    const kept = { ...now, version: done.version };
    setNow(kept);
    setSaved(kept);
    setSaid("Saved.");
    sessionStorage.removeItem(DRAFT);
  };
  const wrong = (prefix: string) =>
    Object.entries(fields)
      .filter(([name]) => name.startsWith(prefix))
      .map(([name, text]) => (
        <p key={name} className="text-sm font-bold text-felt">
          {text}
        </p>
      ));
  return (
    <div className="flex max-w-5xl flex-col gap-4">
      <Section title="Terms" says="Weeks are counted from here; between terms there is no school.">
        {now.terms.map((term, at) => (
          <Row key={term.id} remove={() => set({ terms: without(now.terms, at) })}>
            <input
              aria-label="Name of the term"
              className={`${small} w-48`}
              maxLength={80}
              value={term.name}
              onChange={(event) => set({ terms: changed(now.terms, at, { name: event.target.value }) })}
            />
            <DateField
              label="First day of the term"
              value={term.from}
              set={(from) => set({ terms: changed(now.terms, at, { from }) })}
            />
            to
            <DateField
              label="Last day of the term"
              value={term.to}
              set={(to) => set({ terms: changed(now.terms, at, { to }) })}
            />
          </Row>
        ))}
        {wrong("terms")}
        <Add
          label="Add a term"
          add={() =>
            set({
              terms: [
                ...now.terms,
                { id: crypto.randomUUID(), name: "Term", from: now.today, to: now.today },
              ],
            })
          }
        />
      </Section>

      <Section
        title="When groups meet"
        says="On weekdays, every week or every second; or on days of a cycle that skips days off, such as A and B."
      >
        {now.meetings.map((meeting, at) => (
          <MeetingRow
            key={meeting.id}
            view={now}
            at={at}
            set={set}
            remove={() =>
              set({
                meetings: without(now.meetings, at),
                changes: now.changes.filter(({ meetingId }) => meetingId !== meeting.id),
              })
            }
          />
        ))}
        {wrong("meetings")}
        {wrong("changes")}
        <Add
          label="Add a meeting"
          add={() =>
            set({
              meetings: [
                ...now.meetings,
                {
                  id: crypto.randomUUID(),
                  groupId: now.groups[0]?.id ?? "",
                  pattern: { kind: "weekly", weekdays: [1], everyWeeks: 1 },
                  from: now.terms[0]?.from ?? now.today,
                  to: null,
                  startsAt: "10:00",
                  minutes: 40,
                },
              ],
            })
          }
        />
      </Section>

      <Section title="Days off" says="No class is held and nothing is asked at home.">
        <HolidayFile daysOff={now.daysOff} />
        <a className="link self-start text-sm" href="/band/settings">
          Days off and weekends by hand
        </a>
      </Section>

      <Section
        title="Days that end early"
        says="Classes after that time are not held, those under way are shorter."
      >
        {now.shortDays.map((day, at) => (
          <Row key={at} remove={() => set({ shortDays: without(now.shortDays, at) })}>
            <DateField
              label="Day that ends early"
              value={day.date}
              set={(date) => set({ shortDays: changed(now.shortDays, at, { date }) })}
            />
            until
            <input
              type="time"
              aria-label="School ends at"
              className={clock}
              value={day.endsAt}
              onChange={(event) =>
                set({ shortDays: changed(now.shortDays, at, { endsAt: event.target.value }) })
              }
            />
            <input
              aria-label="Why it ends early"
              className={`${small} w-48`}
              maxLength={80}
              value={day.name}
              onChange={(event) =>
                set({ shortDays: changed(now.shortDays, at, { name: event.target.value }) })
              }
            />
          </Row>
        ))}
        {wrong("shortDays")}
        <Add
          label="Add a short day"
          add={() => set({ shortDays: [...now.shortDays, { date: now.today, endsAt: "12:00", name: "" }] })}
        />
      </Section>

      <Section
        title="Concerts and playing tests"
        says="What they need is proposed before the next page of the book from six weeks before."
      >
        {now.goals.map((goal, at) => (
          <GoalRow key={goal.id} view={now} at={at} set={set} />
        ))}
        {wrong("goals")}
        <Add
          label="Add a concert or test"
          add={() =>
            set({
              goals: [
                ...now.goals,
                {
                  id: crypto.randomUUID(),
                  kind: "concert",
                  name: "Concert",
                  date: now.today,
                  groupId: null,
                  programme: [],
                },
              ],
            })
          }
        />
      </Section>

      <Section
        title="For other calendars"
        says="Classes, due dates and concerts, without a child's name. Whoever has the address can read it; a new one ends the old."
      >
        <SharedAddress address={now.address} origin={origin} />
      </Section>
      <div className="sticky bottom-0 flex items-center gap-3 border-t border-base-300 bg-base-200 py-3">
        <button
          type="button"
          className="btn btn-primary"
          disabled={busy || JSON.stringify(now) === JSON.stringify(saved)}
          onClick={save}
        >
          Save the calendar
        </button>
        {JSON.stringify(now) !== JSON.stringify(saved) && (
          <button
            type="button"
            className="btn btn-ghost"
            onClick={() => {
              setNow(saved);
              sessionStorage.removeItem(DRAFT);
            }}
          >
            As it was
          </button>
        )}
        <output className="text-sm">{said}</output>
        <Problem text={problem} />
      </div>
    </div>
  );
}

const changed = <T,>(all: readonly T[], at: number, part: Partial<T>): T[] =>
  all.map((each, i) => (i === at ? { ...each, ...part } : each));
const without = <T,>(all: readonly T[], at: number): T[] => all.filter((_, i) => i !== at);

function Section({ title, says, children }: { title: string; says: string; children: React.ReactNode }) {
  return (
    <section aria-label={title} className="panel flex flex-col gap-2 p-4">
      <h2 className="text-xl">{title}</h2>
      <p className="text-sm text-quiet">{says}</p>
      {children}
    </section>
  );
}

function Row({ remove, children }: { remove: () => void; children: React.ReactNode }) {
  return (
    <div className="flex flex-wrap items-center gap-2 text-sm">
      {children}
      <button type="button" className="btn btn-ghost btn-sm" onClick={remove}>
        Take out
      </button>
    </div>
  );
}

function Add({ label, add }: { label: string; add: () => void }) {
  return (
    <button type="button" className="btn btn-sm self-start border-base-300 bg-base-100" onClick={add}>
      {label}
    </button>
  );
}

function DateField({ label, value, set }: { label: string; value: string; set: (value: string) => void }) {
  return (
    <input
      type="date"
      aria-label={label}
      className={small}
      value={value}
      onChange={(event) => set(event.target.value)}
    />
  );
}

interface PartProps {
  view: CalendarView;
  at: number;
  set: (part: Partial<CalendarView>) => void;
}

function MeetingRow({ view, at, set, remove }: PartProps & { remove: () => void }) {
  const meeting = view.meetings[at]!;
  const { pattern } = meeting;
  const change = (part: Partial<typeof meeting>) => set({ meetings: changed(view.meetings, at, part) });
  const own = view.changes.flatMap((each, place) => (each.meetingId === meeting.id ? [{ each, place }] : []));
  return (
    <div className="flex flex-col gap-1 border-b border-base-300 pb-2">
      <Row remove={remove}>
        <select
          aria-label="Group that meets"
          className={pick}
          value={meeting.groupId}
          onChange={(event) => change({ groupId: event.target.value })}
        >
          {view.groups.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
        <Pattern pattern={pattern} set={(next) => change({ pattern: next })} />
        at
        <input
          type="time"
          aria-label="Begins at"
          className={clock}
          value={meeting.startsAt}
          onChange={(event) => change({ startsAt: event.target.value })}
        />
        for
        <input
          type="number"
          aria-label="Minutes"
          className={`${small} w-20`}
          min={5}
          max={600}
          value={meeting.minutes}
          onChange={(event) => change({ minutes: Number(event.target.value) })}
        />
        min
      </Row>
      {own.map(({ each, place }) => (
        <Row key={place} remove={() => set({ changes: without(view.changes, place) })}>
          <span className="pl-4">but</span>
          <DateField
            label="Day of the meeting"
            value={each.date}
            set={(date) => set({ changes: changed(view.changes, place, { date }) })}
          />
          <select
            aria-label="What changes"
            className={pick}
            value={each.kind}
            onChange={(event) =>
              set({
                changes: changed(view.changes, place, {
                  kind: event.target.value as typeof each.kind,
                  toDate: event.target.value === "moved" ? each.date : null,
                }),
              })
            }
          >
            <option value="cancelled">is not held</option>
            <option value="moved">moves to</option>
            <option value="extra">is held besides</option>
          </select>
          {each.kind === "moved" && (
            <DateField
              label="Moves to"
              value={each.toDate ?? ""}
              set={(toDate) => set({ changes: changed(view.changes, place, { toDate }) })}
            />
          )}
          <input
            aria-label="Why it changes"
            placeholder="ferry storm"
            className={`${small} w-40`}
            maxLength={80}
            value={each.name}
            onChange={(event) => set({ changes: changed(view.changes, place, { name: event.target.value }) })}
          />
        </Row>
      ))}
      <div className="flex flex-wrap items-center gap-2 text-sm">
        from
        <DateField label="First meeting from" value={meeting.from} set={(from) => change({ from })} />
        on
        <button
          type="button"
          className="link ml-2"
          onClick={() =>
            set({
              changes: [
                ...view.changes,
                {
                  meetingId: meeting.id,
                  date: view.today,
                  kind: "cancelled",
                  toDate: null,
                  startsAt: null,
                  minutes: null,
                  name: "",
                },
              ],
            })
          }
        >
          but one day is different
        </button>
      </div>
    </div>
  );
}

function Pattern({ pattern, set }: { pattern: MeetingPattern; set: (pattern: MeetingPattern) => void }) {
  const toggled = <T,>(all: readonly T[], one: T): T[] =>
    all.includes(one) ? all.filter((each) => each !== one) : [...all, one].sort();
  return (
    <>
      <select
        aria-label="How it repeats"
        className={pick}
        value={pattern.kind === "weekly" ? `weekly/${pattern.everyWeeks}` : `cycle/${pattern.length}`}
        onChange={(event) => {
          const [kind, count] = event.target.value.split("/");
          set(
            kind === "weekly"
              ? {
                  kind,
                  weekdays: pattern.kind === "weekly" ? pattern.weekdays : [1],
                  everyWeeks: Number(count),
                }
              : {
                  kind: "cycle",
                  length: Number(count),
                  on: pattern.kind === "cycle" ? pattern.on.filter((day) => day <= Number(count)) : [1],
                },
          );
        }}
      >
        {[1, 2, 3, 4].map((weeks) => (
          <option key={weeks} value={`weekly/${weeks}`}>
            {weeks === 1 ? "every week" : weeks === 2 ? "every second week" : `every ${weeks} weeks`}
          </option>
        ))}
        {[2, 3, 4, 5, 6, 7, 8, 10].map((length) => (
          <option key={length} value={`cycle/${length}`}>
            cycle of {length} school days
          </option>
        ))}
      </select>
      <fieldset className="flex gap-1">
        <legend className="sr-only">Days</legend>
        {pattern.kind === "weekly"
          ? DAYS.map(([day, name]) => (
              <Toggle
                key={day}
                name={name}
                on={pattern.weekdays.includes(day)}
                toggle={() => set({ ...pattern, weekdays: toggled(pattern.weekdays, day) })}
              />
            ))
          : Array.from({ length: pattern.length }, (_, i) => i + 1).map((day) => (
              <Toggle
                key={day}
                name={pattern.length === 2 ? "AB"[day - 1]! : String(day)}
                on={pattern.on.includes(day)}
                toggle={() => set({ ...pattern, on: toggled(pattern.on, day) })}
              />
            ))}
      </fieldset>
    </>
  );
}

function Toggle({ name, on, toggle }: { name: string; on: boolean; toggle: () => void }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      className={`btn btn-sm px-2 ${on ? "btn-primary" : "border-base-300 bg-base-100 font-normal"}`}
      onClick={toggle}
    >
      {name}
    </button>
  );
}

function GoalRow({ view, at, set }: PartProps) {
  const goal = view.goals[at]!;
  const change = (part: Partial<typeof goal>) => set({ goals: changed(view.goals, at, part) });
  const choices = [
    ...view.pieces.map((piece) => ({ ...piece, kind: "piece" as const })),
    ...view.lines.map((line) => ({ ...line, kind: "line" as const })),
  ];
  const name = (id: string) => choices.find((each) => each.id === id)?.name ?? "taken off the shelf";
  return (
    <div className="flex flex-col gap-1 border-b border-base-300 pb-2">
      <Row remove={() => set({ goals: without(view.goals, at) })}>
        <select
          aria-label="Concert or test"
          className={pick}
          value={goal.kind}
          onChange={(event) => change({ kind: event.target.value as typeof goal.kind })}
        >
          <option value="concert">concert</option>
          <option value="test">playing test</option>
        </select>
        <input
          aria-label="Its name"
          className={`${small} w-56`}
          maxLength={120}
          value={goal.name}
          onChange={(event) => change({ name: event.target.value })}
        />
        <DateField label="Its day" value={goal.date} set={(date) => change({ date })} />
        for
        <select
          aria-label="Who plays"
          className={pick}
          value={goal.groupId ?? ""}
          onChange={(event) => change({ groupId: event.target.value || null })}
        >
          <option value="">everybody</option>
          {view.groups.map(({ id, name: called }) => (
            <option key={id} value={id}>
              {called}
            </option>
          ))}
        </select>
      </Row>
      <div className="flex flex-wrap items-center gap-2 pl-4 text-sm">
        <span>plays</span>
        {goal.programme.map((entry) => (
          <button
            key={entry.refId}
            type="button"
            className="btn btn-xs border-base-300 bg-base-100"
            aria-label={`Take ${name(entry.refId)} out of the programme`}
            onClick={() => change({ programme: goal.programme.filter((each) => each !== entry) })}
          >
            {name(entry.refId)} ×
          </button>
        ))}
        <select
          aria-label="Add to the programme"
          className={pick}
          value=""
          onChange={(event) => {
            const added = choices.find(({ id }) => id === event.target.value);
            if (added)
              change({
                programme: [
                  ...goal.programme,
                  { kind: added.kind, refId: added.id, groupId: null, spoken: "" },
                ],
              });
          }}
        >
          <option value="">add a piece or line</option>
          {choices
            .filter(({ id }) => !goal.programme.some(({ refId }) => refId === id))
            .map(({ id, name: called }) => (
              <option key={id} value={id}>
                {called}
              </option>
            ))}
        </select>
        {goal.programme.length > 0 && (
          <a className="link" href={`/week/concerts/${goal.id}`}>
            who plays, what is said, what is ready
          </a>
        )}
      </div>
    </div>
  );
}
