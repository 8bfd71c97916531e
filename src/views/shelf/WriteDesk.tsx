import { useEffect, useMemo, useRef, useState } from "react";
import { call } from "../../client/api";
import {
  type Entry,
  fractionToNumber,
  lackOf,
  pressKey,
  scoreOfEntry,
  writeMusicXml,
} from "../../core/score";
import { KeyList } from "../../ui/KeyList";
import { Notation } from "../../ui/Notation";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { useHistory } from "../../ui/use-history";
import { useReady } from "../../ui/use-ready";

import { NewLineAbout } from "./NewLineAbout";
import { SignsBar } from "./SignsBar";
import { begin, isMain, KEY_SHEET, KEYS_OF_NOTES, nameOf, type Opened, readDraft, tokenName } from "./typing";
import { PartAbout } from "./WriteAbout";

/** Typing is drawn this long after the last key, ms. */
const DRAW_AFTER_MS = 150;

/** Types a one-line exercise by keys alone; bars fill themselves. What is typed stays on this device until it is saved. */
export function WriteDesk({ opened }: { opened: Opened | null }) {
  const ready = useReady();
  const draftKey = `ulu-typing-${opened ? `${opened.lineId}-${opened.partId}` : "new"}`;
  const history = useHistory(() => begin(opened));
  const [about, setAbout] = useState({ title: "", number: "", page: "", book: "", name: nameOf(opened) });
  const [instruments, setInstruments] = useState<string[]>(
    opened?.score.parts.find((part) => part.id === opened.partId)?.forInstruments ?? [],
  );
  const [svg, setSvg] = useState("");
  const { busy, problem, fields, run, say } = useCall();
  const [found, setFound] = useState<Entry | null>(null);
  const field = useRef<HTMLDivElement>(null);
  const entry = history.now;
  const score = useMemo(() => scoreOfEntry(entry), [entry]);
  const lack = entry.tokens.length > 0 ? lackOf(score) : null;

  // What was typed before a reload or a lost connection is offered again.
  useEffect(() => {
    const kept = readDraft(draftKey);
    if (kept && kept.tokens.length > 0) setFound(kept);
  }, [draftKey]);
  useEffect(() => {
    if (history.canUndo) localStorage.setItem(draftKey, JSON.stringify(entry));
  }, [draftKey, entry, history.canUndo]);

  useEffect(() => {
    if (entry.tokens.length === 0) return setSvg("");
    let current = true;
    const timer = setTimeout(() => {
      call<{ svg: string }>("POST", "/api/drawings", new Blob([writeMusicXml(score)])).then(
        (answer) => {
          if (!current) return;
          setSvg(answer.svg);
          say("");
        },
        (error: Error) => current && say(error.message),
      );
    }, DRAW_AFTER_MS);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [entry.tokens.length, score, say]);

  const change = (make: (entry: Entry) => Entry) => {
    try {
      const next = make(history.now);
      scoreOfEntry(next);
      history.change(next);
      say("");
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      say(`${error.message.charAt(0).toUpperCase()}${error.message.slice(1)}.`);
    }
  };
  const onKey = (event: React.KeyboardEvent) => {
    const control = event.ctrlKey || event.metaKey;
    if (control) {
      const again = event.key === "y" || (event.key === "z" && event.shiftKey);
      if (!again && event.key !== "z") return;
      event.preventDefault();
      return again ? history.redo() : history.undo();
    }
    if (event.altKey || event.key === "Tab") return;
    const arrow = event.shiftKey && (event.key === "ArrowUp" || event.key === "ArrowDown");
    const key = arrow ? `Shift+${event.key}` : event.key;
    if (KEYS_OF_NOTES.test(key)) {
      event.preventDefault();
      change((now) => pressKey(now, key));
    }
  };

  const save = async (event: React.FormEvent) => {
    event.preventDefault();
    if (entry.tokens.every((token) => token.kind === "rest"))
      return say("Type some notes first: click the music field and press a letter from a to g.");
    const lineId = await run(
      () => (opened ? saveOpened(opened) : saveNew()),
      "The line could not be saved; what you typed is kept here.",
    );
    if (!lineId) return;
    localStorage.removeItem(draftKey);
    location.assign(`/shelf/${lineId}`);
  };
  const saveOpened = async ({ lineId, partId, revisionId }: Opened) => {
    const query = new URLSearchParams({
      basedOn: revisionId,
      ...(isMain(opened!) ? {} : { name: about.name, instruments: instruments.join(",") }),
    });
    await call("PUT", `/api/lines/${lineId}/voices/${partId}?${query}`, new Blob([writeMusicXml(score)]));
    return lineId;
  };
  const saveNew = async () => {
    const title = about.title.trim() || "Untitled line";
    const query = new URLSearchParams({ fileName: "typed", title });
    for (const name of ["number", "page", "book"] as const) if (about[name]) query.set(name, about[name]);
    const xml = new Blob([writeMusicXml({ ...score, title })]);
    return (await call<{ lineId: string }>("POST", `/api/lines?${query}`, xml)).lineId;
  };

  const cursorToken = entry.tokens[entry.cursor - 1];
  return (
    <form onSubmit={save} noValidate className="grid gap-4 lg:grid-cols-[1fr_300px]">
      <div className="flex min-w-0 flex-col gap-3">
        {found && (
          <p className="panel flex flex-wrap items-center gap-3 p-3">
            Something typed earlier was not saved.
            <button
              type="button"
              className="btn btn-sm btn-primary"
              onClick={() => {
                history.replace(found);
                setFound(null);
              }}
            >
              Go on with it
            </button>
            <button
              type="button"
              className="link"
              onClick={() => {
                localStorage.removeItem(draftKey);
                setFound(null);
              }}
            >
              drop it
            </button>
          </p>
        )}
        <div
          ref={field}
          role="application"
          aria-label="Music field: type notes with the letters a to g"
          aria-describedby="typing-now"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: it takes the keys of the sheet below
          tabIndex={0}
          onKeyDown={ready ? onKey : undefined}
          onClick={() => field.current?.focus()}
          className="panel min-h-44 cursor-text p-3"
          data-testid="music-field"
        >
          {entry.tokens.length === 0 ? (
            <p className="p-4 text-quiet">
              Click here and type: <kbd className="key">4</kbd> <kbd className="key">f</kbd>{" "}
              <kbd className="key">g</kbd> <kbd className="key">a</kbd> gives three quarter notes. Bars fill
              themselves.
            </p>
          ) : (
            svg && <Notation svg={svg} label="The line as typed" cursorId={cursorToken?.id ?? null} />
          )}
        </div>
        <p id="typing-now" aria-live="polite" className="text-sm">
          <span className="font-bold">{tokenName(cursorToken)}</span>
          <span className="text-quiet">
            {" "}
            · next: {entry.dotted ? "dotted " : ""}
            {entry.value}
            {entry.tripletLeft > 0 ? `, triplet (${entry.tripletLeft} to come)` : ""}
            {entry.slurWaits ? ", begins a slur" : ""} · {score.parts[0].measures.length}{" "}
            {score.parts[0].measures.length === 1 ? "bar" : "bars"}
            {lack ? `, the last one lacks ${fractionToNumber(lack)} quarters` : ""}
          </span>
        </p>
        <Problem text={problem} />
        <div className="flex flex-wrap items-center gap-2">
          <button
            type="button"
            className="btn btn-sm border-base-300 bg-base-100"
            disabled={!history.canUndo}
            onClick={history.undo}
          >
            Undo
          </button>
          <button
            type="button"
            className="btn btn-sm border-base-300 bg-base-100"
            disabled={!history.canRedo}
            onClick={history.redo}
          >
            Redo
          </button>
        </div>
        <SignsBar entry={entry} change={change} />
        <KeyList keys={KEY_SHEET} />
      </div>
      <div className="panel flex h-fit flex-col gap-1 p-4">
        {opened ? (
          <PartAbout
            main={isMain(opened)}
            name={about.name}
            setName={(name) => setAbout({ ...about, name })}
            instruments={instruments}
            setInstruments={setInstruments}
            problem={fields.name}
          />
        ) : (
          <NewLineAbout about={about} setAbout={setAbout} fields={fields} entry={entry} change={change} />
        )}
        <button type="submit" className="btn btn-primary mt-2" disabled={busy || !ready}>
          {busy ? "Saving …" : opened ? "Save the notes" : "Put it on the shelf"}
        </button>
        <a className="btn btn-ghost" href={opened ? `/shelf/${opened.lineId}` : "/shelf"}>
          Back
        </a>
      </div>
    </form>
  );
}
