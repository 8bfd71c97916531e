import { useState } from "react";
import { ApiError, call } from "../../client/api";
import { keyName } from "../../core/music";
import { Field, TextField } from "../../ui/Field";
import { useReady } from "../../ui/use-ready";
import { METRES } from "./WriteAbout";

const KEYS = [-2, -3, -1, -4, 0, 1, -5, 2];

/** A line of a book on the stand: page, number and size, no notes. */
export function CatalogueForm({ books }: { books: string[] }) {
  const ready = useReady();
  const [fields, setFields] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState("");
  const [done, setDone] = useState<{ lineId: string; title: string } | null>(null);

  const submit = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const element = event.currentTarget;
    const form = Object.fromEntries(new FormData(element)) as Record<string, string>;
    const number = (text: string | undefined) => (text?.trim() ? Number(text) : null);
    const [beats, beatType] = form.metre!.split("/").map(Number);
    setFields({});
    setProblem("");
    try {
      const { lineId } = await call<{ lineId: string }>("POST", "/api/lines/catalogued", {
        title:
          form.title ||
          [form.number && `No. ${form.number}`, form.page && `page ${form.page}`].filter(Boolean).join(", "),
        number: number(form.number),
        page: number(form.page),
        book: form.book,
        introduces: form.introduces,
        fifths: form.key === "rhythm" ? 0 : Number(form.key),
        unpitched: form.key === "rhythm",
        beats,
        beatType,
        bars: Number(form.bars || Number.NaN),
        bpm: Number(form.bpm || Number.NaN),
      });
      setDone({ lineId, title: form.title || `No. ${form.number}` });
      element.reset();
    } catch (error) {
      const known = error instanceof ApiError ? error : new ApiError("The line could not be kept.", "failed");
      setProblem(known.message);
      setFields(known.fields);
    }
  };

  return (
    <form onSubmit={submit} noValidate className="panel flex h-fit flex-col gap-1 p-4">
      <p className="mb-1 text-sm text-quiet">
        For a copyrighted book: its notes stay on paper. The line can be planned, given and recorded; takes
        get rhythm, level and tuning only.
      </p>
      <TextField label="Book" error={fields.book} name="book" list="known-books" maxLength={160} />
      <datalist id="known-books">
        {books.map((book) => (
          <option key={book}>{book}</option>
        ))}
      </datalist>
      <div className="grid grid-cols-2 gap-2">
        <TextField label="No." error={fields.number} name="number" inputMode="numeric" />
        <TextField label="Page" error={fields.page} name="page" inputMode="numeric" />
      </div>
      <TextField label="Title" error={fields.title} name="title" maxLength={160} />
      <div className="grid grid-cols-2 gap-2">
        <Field label="Concert key" error={fields.fifths}>
          <select name="key" className="select w-full border-neutral">
            {KEYS.map((fifths) => (
              <option key={fifths} value={fifths}>
                {keyName(fifths)}
              </option>
            ))}
            <option value="rhythm">rhythm only</option>
          </select>
        </Field>
        <Field label="Metre">
          <select name="metre" className="select w-full border-neutral">
            {METRES.map((metre) => (
              <option key={metre}>{metre}</option>
            ))}
          </select>
        </Field>
        <TextField label="Bars" error={fields.bars} name="bars" inputMode="numeric" />
        <TextField label="Tempo" error={fields.bpm} name="bpm" inputMode="numeric" defaultValue={80} />
      </div>
      <TextField label="What it introduces" error={fields.introduces} name="introduces" maxLength={200} />
      {problem && (
        <p role="alert" className="text-sm font-bold text-felt">
          {problem}
        </p>
      )}
      {done && (
        <output className="text-sm">
          {done.title} is on the shelf.{" "}
          <a className="link" href={`/shelf/${done.lineId}`}>
            Open it
          </a>{" "}
          or go on with the next one.
        </output>
      )}
      <button type="submit" className="btn btn-primary" disabled={!ready}>
        Put it on the shelf
      </button>
    </form>
  );
}
