import { useState } from "react";
import { ApiError, call } from "../../client/api";
import { Field } from "../../ui/Field";
import { useReady } from "../../ui/use-ready";

/** Drops a MusicXML file on the shelf; the file is read whole before anything is stored. */
export function ImportLine() {
  const [file, setFile] = useState<File | null>(null);
  const [problem, setProblem] = useState("");
  const [fields, setFields] = useState<Record<string, string>>({});
  const ready = useReady();
  const [busy, setBusy] = useState(false);
  const [done, setDone] = useState<{ lineId: string; notUnderstood: string[] } | null>(null);

  const submit = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const chosen = file ?? (form.get("file") as File);
    if (chosen.size === 0) return setProblem("Choose a MusicXML file first (.musicxml, .xml or .mxl).");
    const about = new URLSearchParams({ fileName: chosen.name });
    for (const name of ["number", "page", "introduces"]) about.set(name, String(form.get(name) ?? ""));
    setBusy(true);
    setProblem("");
    setFields({});
    try {
      setDone(await call("POST", `/api/lines?${about}`, chosen));
    } catch (error) {
      const known =
        error instanceof ApiError ? error : new ApiError("The file could not be imported.", "failed");
      setProblem(known.message);
      setFields(known.fields);
    } finally {
      setBusy(false);
    }
  };

  if (done) {
    return (
      <section className="panel h-fit p-4" aria-live="polite">
        <h2 className="text-xl">On the shelf</h2>
        {done.notUnderstood.length > 0 && (
          <>
            <p className="mt-2">The notes are in. Some things in the file were left out:</p>
            <ul className="ml-5 list-disc text-sm">
              {done.notUnderstood.map((each) => (
                <li key={each}>{each}</li>
              ))}
            </ul>
          </>
        )}
        <div className="mt-3 flex gap-2">
          <a className="btn btn-primary" href={`/shelf/${done.lineId}`}>
            Open the line
          </a>
          <button type="button" className="btn border-base-300 bg-base-100" onClick={() => setDone(null)}>
            Import another
          </button>
        </div>
      </section>
    );
  }
  return (
    <form onSubmit={submit} className="panel flex h-fit flex-col gap-2 p-4" noValidate>
      <h2 className="text-xl">Import a line</h2>
      <label
        className="flex cursor-pointer flex-col gap-1 rounded border border-dashed border-accent p-3 focus-within:outline-3 focus-within:outline-accent"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          setFile(event.dataTransfer.files[0] ?? null);
        }}
      >
        <span className="font-bold">{file ? file.name : "MusicXML file"}</span>
        <span className="text-sm text-quiet">Drop it here or click to choose: .musicxml, .xml or .mxl</span>
        <input
          type="file"
          name="file"
          className="sr-only"
          accept=".musicxml,.xml,.mxl"
          aria-label="MusicXML file"
          onChange={(event) => setFile(event.target.files?.[0] ?? null)}
        />
      </label>
      <div className="grid grid-cols-2 gap-2">
        <Field label="No. in the book" error={fields.number}>
          <input name="number" inputMode="numeric" className="input w-full border-neutral" />
        </Field>
        <Field label="Page" error={fields.page}>
          <input name="page" inputMode="numeric" className="input w-full border-neutral" />
        </Field>
      </div>
      <Field label="What it introduces" error={fields.introduces}>
        <input name="introduces" className="input w-full border-neutral" maxLength={200} />
      </Field>
      {problem && (
        <p role="alert" className="text-sm font-bold text-felt">
          {problem}
        </p>
      )}
      <button type="submit" className="btn btn-primary" disabled={busy || !ready}>
        {busy ? "Reading …" : "Put it on the shelf"}
      </button>
    </form>
  );
}
