import { useRef, useState } from "react";
import { call } from "../../client/api";
import type { HandoutView } from "../../services/pieces/schema";
import { FileInput } from "../../ui/FileInput";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

const FORMS = { sheet: "sheet", sound: "recording", address: "address" } as const;

/** Worksheets and things to listen to: kept here, put on days from the week's drawer. */
export function Handouts({ first }: { first: HandoutView[] }) {
  const [all, setAll] = useState(first);
  const [gone, setGone] = useState<HandoutView | null>(null);
  const [address, setAddress] = useState("");
  const [title, setTitle] = useState("");
  const file = useRef<HTMLInputElement>(null);
  const { run, busy, problem } = useCall();
  const keep = (kind: HandoutView["kind"], chosen: File) =>
    run(async () => {
      const called = title.trim() || chosen.name.replace(/\.[a-z0-9]+$/i, "");
      const { id } = await call<{ id: string }>(
        "POST",
        `/api/handouts?kind=${kind}&title=${encodeURIComponent(called)}`,
        chosen,
      );
      setAll((now) => [
        ...now,
        { id, kind, title: called, form: kind === "worksheet" ? "sheet" : "sound", address: null },
      ]);
      setTitle("");
    }, "The file was not kept. Try again in a moment.");
  const approve = () =>
    run(async () => {
      const called = title.trim() || address.trim();
      const { id } = await call<{ id: string }>("POST", "/api/handouts/address", {
        title: called,
        address: address.trim(),
      });
      setAll((now) => [
        ...now,
        { id, kind: "listening", title: called, form: "address", address: address.trim() },
      ]);
      setTitle("");
      setAddress("");
    }, "The address was not kept. Try again in a moment.");
  const setRemoved = async (handout: HandoutView, removed: boolean) => {
    const done = await run(
      () => call(removed ? "PUT" : "DELETE", `/api/handouts/${handout.id}/removed`),
      "This did not work. Try again in a moment.",
    );
    if (done === undefined) return;
    setAll((now) => (removed ? now.filter(({ id }) => id !== handout.id) : [...now, handout]));
    setGone(removed ? handout : null);
  };
  return (
    <section className="panel flex h-fit flex-col gap-3 p-4" aria-label="Sheets and listening">
      <h2 className="text-xl">Sheets and listening</h2>
      <p className="text-sm text-quiet">
        Put them on a day of the week from its drawer; whoever has them on the stand opens them there.
      </p>
      <ul className="flex flex-col divide-y divide-base-300">
        {all.map((handout) => (
          <li key={handout.id} className="flex items-center justify-between gap-2 py-1 text-sm">
            <a
              className="min-w-0 flex-1 break-words hover:underline"
              href={handout.address ?? `/api/handouts/${handout.id}/file`}
              target="_blank"
              rel="noopener noreferrer"
            >
              {handout.title} <span className="text-quiet">({FORMS[handout.form]})</span>
            </a>
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={`Set ${handout.title} away`}
              onClick={() => setRemoved(handout, true)}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      {gone && (
        <output className="text-sm">
          {gone.title} was set away; where it is on a stand it stays.{" "}
          <button type="button" className="link" onClick={() => setRemoved(gone, false)}>
            Undo
          </button>
        </output>
      )}
      <label className="flex flex-col text-sm font-bold">
        Title
        <input
          className="input w-full border-neutral font-normal"
          maxLength={160}
          value={title}
          placeholder="as the file is called"
          onChange={(event) => setTitle(event.target.value)}
        />
      </label>
      <FileInput
        ref={file}
        className="sr-only"
        aria-label="A sheet (PDF) or a recording"
        accept="application/pdf,audio/*,.pdf,.mp3,.wav,.flac,.ogg,.m4a"
        onFiles={([chosen]) => void keep(/\.pdf$/i.test(chosen!.name) ? "worksheet" : "listening", chosen!)}
      />
      <button
        type="button"
        className="btn border-base-300 bg-base-100"
        disabled={busy}
        onClick={() => file.current?.click()}
      >
        {busy ? "Being kept …" : "Add a sheet (PDF) or a recording"}
      </button>
      <label className="flex flex-col text-sm font-bold">
        Or an address to listen at
        <input
          type="url"
          className="input w-full border-neutral font-normal"
          maxLength={500}
          value={address}
          placeholder="https://"
          onChange={(event) => setAddress(event.target.value)}
        />
      </label>
      <button
        type="button"
        className="btn border-base-300 bg-base-100"
        disabled={busy || address.trim() === ""}
        onClick={approve}
      >
        Approve this address
      </button>
      <Problem text={problem} />
    </section>
  );
}
