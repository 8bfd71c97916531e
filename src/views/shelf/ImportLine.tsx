import { useState } from "react";
import { ApiError, call } from "../../client/api";
import { splitTunes } from "../../core/score";
import type { FileLook } from "../../services/shelf/schema";
import { TextField } from "../../ui/Field";
import { FileInput } from "../../ui/FileInput";
import { useReady } from "../../ui/use-ready";
import { SortParts } from "./SortParts";

interface Imported {
  name: string;
  lineId: string;
  notUnderstood: string[];
  before: FileLook["before"];
}

/** A file, or one tune of it, on its way to the shelf. */
interface Upload {
  name: string;
  body: Blob;
}

/** Drops MusicXML, ABC or MIDI files on the shelf; each is read whole before anything of it is stored. */
export function ImportLine({ books }: { books: string[] }) {
  const [files, setFiles] = useState<File[]>([]);
  const [problems, setProblems] = useState<string[]>([]);
  const [fields, setFields] = useState<Record<string, string>>({});
  const ready = useReady();
  const [busy, setBusy] = useState("");
  const [done, setDone] = useState<Imported[]>([]);
  const [look, setLook] = useState<FileLook | null>(null);
  const [chords, setChords] = useState<"top" | "bottom">("top");

  const choose = (chosen: File[]) => {
    setFiles(chosen);
    setLook(null);
  };
  const failure = (name: string, error: unknown) => {
    const known =
      error instanceof ApiError ? error : new ApiError(`${name} could not be imported.`, "failed");
    setFields(known.fields);
    return known.message;
  };
  const submit = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const chosen = files.filter((file) => file.size > 0);
    if (chosen.length === 0)
      return setProblems([
        "Choose a file first: MusicXML (.musicxml, .xml, .mxl), ABC (.abc) or MIDI (.mid).",
      ]);
    setProblems([]);
    setFields({});
    const uploads = (await Promise.all(chosen.map(uploadsOf))).flat();
    const [only] = uploads;
    // One file with several parts, or one that is here already, is looked at before it is stored.
    if (uploads.length === 1 && !look) {
      setBusy("Reading …");
      try {
        const found = await call<FileLook>(
          "POST",
          `/api/lines/look?${new URLSearchParams({ fileName: only!.name })}`,
          only!.body,
        );
        if (found.parts.length > 1 || found.before || found.hasChords) {
          setLook(found);
          return setBusy("");
        }
      } catch (error) {
        setBusy("");
        return setProblems([failure(only!.name, error)]);
      }
    }
    const imported: Imported[] = [];
    const refused: string[] = [];
    for (const [place, { name, body }] of uploads.entries()) {
      setBusy(uploads.length === 1 ? "Reading …" : `Reading ${place + 1} of ${uploads.length} …`);
      const about = new URLSearchParams({ fileName: name });
      if (form.get("book")) about.set("book", String(form.get("book")));
      // Number and page belong to one line; a whole folder keeps its titles only.
      if (uploads.length === 1)
        for (const field of ["number", "page", "introduces"]) about.set(field, String(form.get(field) ?? ""));
      if (look) {
        about.set("uses", JSON.stringify(look.parts.map(({ id, use }) => [id, use])));
        about.set("chords", chords);
      }
      try {
        imported.push({ name, ...(await call<Omit<Imported, "name">>("POST", `/api/lines?${about}`, body)) });
      } catch (error) {
        refused.push(failure(name, error));
      }
    }
    setBusy("");
    setProblems(refused);
    setDone(imported);
    if (imported.length > 0) setLook(null);
  };

  if (done.length > 0)
    return (
      <Done
        imported={done}
        refused={problems}
        again={() => {
          setDone([]);
          choose([]);
        }}
      />
    );
  return (
    <form onSubmit={submit} className="panel flex h-fit flex-col gap-2 p-4" noValidate>
      <label
        className="flex cursor-pointer flex-col gap-1 rounded border border-dashed border-accent p-3 focus-within:outline-3 focus-within:outline-accent"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          choose([...event.dataTransfer.files]);
        }}
      >
        <span className="font-bold">{nameOf(files)}</span>
        <span className="text-sm text-quiet">
          Drop one or many here, or click to choose: .musicxml, .xml, .mxl, .abc or .mid
        </span>
        <FileInput
          multiple
          className="sr-only"
          accept=".musicxml,.xml,.mxl,.abc,.mid,.midi"
          aria-label="Music files"
          onFiles={choose}
        />
      </label>
      {look && (
        <SortParts look={look} change={(parts) => setLook({ ...look, parts })} {...{ chords, setChords }} />
      )}
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

/** A file as it is, or each tune of a file in ABC that holds several. */
async function uploadsOf(file: File): Promise<Upload[]> {
  if (!/\.abc$/i.test(file.name)) return [{ name: file.name, body: file }];
  const tunes = splitTunes(await file.text());
  if (tunes.length === 1) return [{ name: file.name, body: file }];
  return tunes.map((tune, i) => ({ name: `${file.name} (${i + 1})`, body: new Blob([tune]) }));
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
  const twice = imported.filter((each) => each.before?.sameNotes);
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
      {twice.length > 0 && (
        <p className="mt-2 text-sm">
          The shelf had {twice.length === 1 ? "this line" : "these lines"} already:{" "}
          {twice.map((each) => each.before!.title).join(", ")}.
        </p>
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
