import { useEffect, useState } from "react";
import { call } from "../../client/api";
import { keepSheets, openSheet } from "../../client/sheets";
import type { StandStrip } from "../../services/practice/wire";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { KIND_NAMES } from "../../ui/wording";

interface Props {
  strips: StandStrip[];
  refresh: () => Promise<void>;
}

/** What stands on single days beside tasks: a sheet, something to hear, cards, words; each ticked off when done. */
export function Beside({ strips, refresh }: Props) {
  useEffect(() => {
    // Sheets are kept on the device, so that they open without network.
    void keepSheets(strips.flatMap(({ file }) => (file?.form === "sheet" ? file.handoutId : [])));
  }, [strips]);
  const today = strips.filter((strip) => strip.today);
  const other = strips.filter((strip) => !strip.today);
  return (
    <>
      {today.length > 0 && <Days heading="Also today" strips={today} refresh={refresh} />}
      {other.length > 0 && <Days heading="Also this week" strips={other} refresh={refresh} />}
    </>
  );
}

function Days({ heading, strips, refresh }: Props & { heading: string }) {
  return (
    <section className="flex flex-col gap-2">
      <h2 className="text-xl">{heading}</h2>
      {strips.map((strip) => (
        <Item key={strip.stripId} strip={strip} refresh={refresh} />
      ))}
    </section>
  );
}

function Item({ strip, refresh }: { strip: StandStrip; refresh: () => Promise<void> }) {
  const { run, busy, problem } = useCall();
  /** What was told just now, until the bench has said the same. */
  const [told, setTold] = useState<boolean | null>(null);
  const done = told ?? strip.done;
  const tick = async (now: boolean) => {
    setTold(now);
    const kept = await run(
      // It goes through though the page is left at once.
      () => call("PUT", `/api/strips/${strip.stripId}/done`, { done: now }, { keepalive: true }),
      "This was not kept. Try again in a moment.",
    );
    if (kept === undefined) return setTold(null);
    // Without news from the bench it stays as it was told.
    await refresh().then(
      () => setTold(null),
      () => undefined,
    );
  };
  const { file, address } = strip;
  return (
    <article className="panel flex flex-col gap-2 p-4">
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="checkbox"
          checked={done}
          disabled={busy}
          onChange={(event) => tick(event.target.checked)}
        />
        <span className={`flex-1 font-bold ${done ? "text-quiet line-through" : ""}`}>{strip.title}</span>
        <span className="text-sm text-quiet">
          {KIND_NAMES[strip.kind]} · {strip.minutes} min{strip.today ? "" : ` · ${strip.day}`}
        </span>
      </label>
      {strip.note && <p>{strip.note}</p>}
      {file?.form === "sheet" && (
        <button
          type="button"
          className="btn h-11 border-base-300 bg-base-100"
          onClick={() => run(() => openSheet(file.handoutId), "The sheet could not be opened.")}
        >
          Open the sheet
        </button>
      )}
      {file?.form === "sound" && (
        // biome-ignore lint/a11y/useMediaCaption: music to listen to has no words
        <audio controls preload="none" src={`/api/handouts/${file.handoutId}/file`} className="w-full" />
      )}
      {address && (
        <a
          className="btn h-11 border-base-300 bg-base-100"
          href={address}
          target="_blank"
          rel="noopener noreferrer"
        >
          Listen to it
        </a>
      )}
      <Problem text={problem} />
    </article>
  );
}
