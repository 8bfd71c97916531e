import { useState } from "react";
import { call } from "../../client/api";
import type { ReadHolidays } from "../../core/plan";
import type { CalendarView } from "../../services/week/schema";
import { FileInput } from "../../ui/FileInput";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { leftOutText } from "../../ui/wording";

const day = new Intl.DateTimeFormat("en-GB", {
  day: "numeric",
  month: "short",
  year: "numeric",
  timeZone: "UTC",
});
/** "14 Dec 2026 to 15 Dec 2026"; ranges are spelled differently by server and browser. */
const dates = (from: string, to: string) =>
  [...new Set([from, to])].map((date) => day.format(new Date(`${date}T12:00:00Z`))).join(" to ");
const LARGEST_BYTES = 1_000_000;

/** Days off from a school's calendar file: looked at, chosen, then taken over. */
export function HolidayFile({ daysOff }: { daysOff: CalendarView["daysOff"] }) {
  const [look, setLook] = useState<(ReadHolidays & { already: number }) | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [off, setOff] = useState(daysOff);
  const [said, setSaid] = useState("");
  const { busy, problem, run, say } = useCall();
  const open = async (file: File) => {
    setSaid("");
    setLook(null);
    if (file.size > LARGEST_BYTES)
      return say("This calendar is too large; a school's holidays fit in one megabyte.");
    const read = await run(
      async () =>
        call<ReadHolidays & { already: number }>("POST", "/api/calendar/holidays", {
          text: await file.text(),
        }),
      "The file could not be read. Try again in a moment.",
    );
    if (!read) return;
    setLook(read);
    setChosen(new Set(read.holidays.keys()));
  };
  const add = async () => {
    if (!look) return;
    const days = look.holidays.filter((_, i) => chosen.has(i));
    const done = await run(
      () => call<unknown>("POST", "/api/calendar/days-off", { days }),
      "The days off could not be added. Try again in a moment.",
    );
    if (!done) return;
    setOff([...off, ...days].sort((a, b) => a.from.localeCompare(b.from)));
    setLook(null);
    setSaid(`${days.length === 1 ? "1 stretch" : `${days.length} stretches`} of days off added.`);
  };
  return (
    <>
      {off.length > 0 && (
        <p className="text-sm">
          {off.map(({ from, to, name }) => `${name || "Off"}: ${dates(from, to)}`).join(" · ")}
        </p>
      )}
      <label className="flex flex-wrap items-center gap-2 text-sm">
        From your school's calendar file (.ics)
        <FileInput
          accept=".ics,text/calendar"
          className="file-input file-input-sm border-neutral"
          disabled={busy}
          onFiles={([file]) => open(file!)}
        />
      </label>
      {look && (
        <fieldset className="flex flex-col gap-1 rounded-box border border-base-300 p-3 text-sm">
          <legend className="px-1 font-bold">
            {look.holidays.length === 0 ? "Nothing new in this file" : "These days would be off"}
          </legend>
          {look.holidays.map(({ from, to, name }, i) => (
            <label key={`${from}/${to}/${name}`} className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm border-neutral"
                checked={chosen.has(i)}
                onChange={() => {
                  const next = new Set(chosen);
                  if (!next.delete(i)) next.add(i);
                  setChosen(next);
                }}
              />
              <span className="w-56 tabular-nums">{dates(from, to)}</span>
              {name}
            </label>
          ))}
          {look.already > 0 && <p className="text-quiet">{look.already} in the file are off already.</p>}
          {look.leftOut.map(({ why, count }) => (
            <p key={why} className="text-quiet">
              {leftOutText(why, count)}
            </p>
          ))}
          <div className="mt-1 flex gap-2">
            {look.holidays.length > 0 && (
              <button
                type="button"
                className="btn btn-primary btn-sm"
                disabled={busy || chosen.size === 0}
                onClick={add}
              >
                {chosen.size === 1 ? "Add this one" : `Add these ${chosen.size}`}
              </button>
            )}
            <button type="button" className="btn btn-ghost btn-sm" onClick={() => setLook(null)}>
              {look.holidays.length > 0 ? "Add none" : "Close"}
            </button>
          </div>
        </fieldset>
      )}
      <output className="text-sm">{said}</output>
      <Problem text={problem} />
    </>
  );
}

/** The address other calendars fetch classes, due dates and concerts from. */
export function SharedAddress({ address: first, origin }: { address: string | null; origin: string }) {
  const [address, setAddress] = useState(first);
  const { busy, problem, run } = useCall();
  const share = async (method: "PUT" | "DELETE") => {
    const done = await run(
      () => call<{ address: string | null }>(method, "/api/calendar/address"),
      "The address could not be changed. Try again in a moment.",
    );
    if (done) setAddress(done.address);
  };
  return (
    <>
      {address && (
        <output className="rounded-box bg-base-200 px-3 py-2 font-mono text-sm break-all select-all">
          {`${origin}/calendar/${address}.ics`}
        </output>
      )}
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-sm border-base-300 bg-base-100"
          disabled={busy}
          onClick={() => share("PUT")}
        >
          {address ? "A new address in place of this" : "Make an address"}
        </button>
        {address && (
          <button
            type="button"
            className="btn btn-ghost btn-sm"
            disabled={busy}
            onClick={() => share("DELETE")}
          >
            Share no more
          </button>
        )}
      </div>
      <Problem text={problem} />
    </>
  );
}
