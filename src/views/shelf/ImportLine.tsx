import { useState } from "react";
import { ApiError, call } from "../../client/api";
import { TextField } from "../../ui/Field";
import { useReady } from "../../ui/use-ready";

interface Imported {
  name: string;
  lineId: string;
  notUnderstood: string[];
}

/** Drops MusicXML, ABC or MIDI files on the shelf; each is read whole before anything of it is stored. */
export function ImportLine({ books }: { books: string[] }) {
  const [files, setFiles] = useState<File[]>([]);
  const [problems, setProblems] = useState<string[]>([]);
  const [fields, setFields] = useState<Record<string, string>>({});
  const ready = useReady();
  const [busy, setBusy] = useState("");
  const [done, setDone] = useState<Imported[]>([]);

  const submit = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const chosen = (files.length > 0 ? files : (form.getAll("file") as File[])).filter(
      (file) => file.size > 0,
    );
    if (chosen.length === 0)
      return setProblems([
        "Choose a file first: MusicXML (.musicxml, .xml, .mxl), ABC (.abc) or MIDI (.mid).",
      ]);
    setProblems([]);
    setFields({});
    const imported: Imported[] = [];
    const refused: string[] = [];
    for (const [place, file] of chosen.entries()) {
      setBusy(chosen.length === 1 ? "Reading …" : `Reading ${place + 1} of ${chosen.length} …`);
      const about = new URLSearchParams({ fileName: file.name });
      if (form.get("book")) about.set("book", String(form.get("book")));
      // Number and page belong to one line; a whole folder keeps its titles only.
      if (chosen.length === 1)
        for (const name of ["number", "page", "introduces"]) about.set(name, String(form.get(name) ?? ""));
      try {
        imported.push({
          name: file.name,
          ...(await call<Omit<Imported, "name">>("POST", `/api/lines?${about}`, file)),
        });
      } catch (error) {
        const known =
          error instanceof ApiError ? error : new ApiError(`${file.name} could not be imported.`, "failed");
        refused.push(known.message);
        setFields(known.fields);
      }
    }
    setBusy("");
    setProblems(refused);
    setDone(imported);
  };

  if (done.length > 0) return <Done imported={done} refused={problems} again={() => setDone([])} />;
  return (
    <form onSubmit={submit} className="panel flex h-fit flex-col gap-2 p-4" noValidate>
      <label
        className="flex cursor-pointer flex-col gap-1 rounded border border-dashed border-accent p-3 focus-within:outline-3 focus-within:outline-accent"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          setFiles([...event.dataTransfer.files]);
        }}
      >
        <span className="font-bold">{nameOf(files)}</span>
        <span className="text-sm text-quiet">
          Drop one or many here, or click to choose: .musicxml, .xml, .mxl, .abc or .mid
        </span>
        <input
          type="file"
          name="file"
          multiple
          className="sr-only"
          accept=".musicxml,.xml,.mxl,.abc,.mid,.midi"
          aria-label="Music files"
          onChange={(event) => setFiles([...(event.target.files ?? [])])}
        />
      </label>
      <TextField label="Book" error={fields.book} name="book" list="import-books" maxLength={160} />
      <datalist id="import-books">
        {books.map((book) => (
          <option key={book}>{book}</option>
        ))}
      </datalist>
      {files.length < 2 && (
        <>
          <div className="grid grid-cols-2 gap-2">
            <TextField label="No. in the book" error={fields.number} name="number" inputMode="numeric" />
            <TextField label="Page" error={fields.page} name="page" inputMode="numeric" />
          </div>
          <TextField label="What it introduces" error={fields.introduces} name="introduces" maxLength={200} />
        </>
      )}
      <Problems sentences={problems} />
      <button type="submit" className="btn btn-primary" disabled={busy !== "" || !ready}>
        {busy || (files.length > 1 ? `Put ${files.length} on the shelf` : "Put it on the shelf")}
      </button>
    </form>
  );
}

function nameOf(files: File[]): string {
  if (files.length === 0) return "MusicXML, ABC or MIDI file";
  return files.length === 1 ? files[0]!.name : `${files.length} files`;
}

function Problems({ sentences }: { sentences: string[] }) {
  if (sentences.length === 0) return null;
  return (
    <ul role="alert" className="text-sm font-bold text-felt">
      {sentences.map((sentence) => (
        <li key={sentence}>{sentence}</li>
      ))}
    </ul>
  );
}

function Done({ imported, refused, again }: { imported: Imported[]; refused: string[]; again: () => void }) {
  const [first] = imported;
  const leftOut = imported.filter((each) => each.notUnderstood.length > 0);
  return (
    <section className="panel h-fit p-4" aria-live="polite">
      <h2 className="text-xl">
        {imported.length === 1 ? "On the shelf" : `${imported.length} lines on the shelf`}
      </h2>
      {leftOut.length > 0 && (
        <>
          <p className="mt-2">The notes are in. Some things in the files were left out:</p>
          <ul className="ml-5 list-disc text-sm">
            {leftOut.map((each) => (
              <li key={each.lineId}>
                {imported.length > 1 && `${each.name}: `}
                {each.notUnderstood.join("; ")}
              </li>
            ))}
          </ul>
        </>
      )}
      <Problems sentences={refused} />
      <div className="mt-3 flex gap-2">
        {imported.length === 1 ? (
          <a className="btn btn-primary" href={`/shelf/${first!.lineId}`}>
            Open the line
          </a>
        ) : (
          <a className="btn btn-primary" href="/shelf">
            Show the shelf
          </a>
        )}
        <button type="button" className="btn border-base-300 bg-base-100" onClick={again}>
          Import more
        </button>
      </div>
    </section>
  );
}
