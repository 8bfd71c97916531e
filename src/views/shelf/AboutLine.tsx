import { useState } from "react";
import { ApiError, call } from "../../client/api";
import type { LineDetail } from "../../services/shelf/schema";
import { TextField } from "../../ui/Field";
import { useReady } from "../../ui/use-ready";

/** Where a line stands: book, page, number, title, and the director's own place with the reason; its parts below. */
export function AboutLine({
  line,
  instruments,
  changed,
}: {
  line: LineDetail;
  instruments: { id: string; name: string }[];
  changed: () => void;
}) {
  const ready = useReady();
  const [fields, setFields] = useState<Record<string, string>>({});
  const [said, setSaid] = useState("");
  const [problem, setProblem] = useState("");

  const save = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = Object.fromEntries(new FormData(event.currentTarget)) as Record<string, string>;
    setFields({});
    setSaid("");
    setProblem("");
    const number = (text: string | undefined) => (text?.trim() ? Number(text) : null);
    try {
      await call("PUT", `/api/lines/${line.id}`, {
        ...form,
        number: number(form.number),
        page: number(form.page),
        teachingPlace: number(form.teachingPlace),
      });
      setSaid("Kept.");
      changed();
    } catch (error) {
      const known = error instanceof ApiError ? error : new ApiError("This could not be kept.", "failed");
      setProblem(known.message);
      setFields(known.fields);
    }
  };

  return (
    <div className="flex flex-col gap-5">
      <form onSubmit={save} noValidate className="grid gap-x-4 gap-y-1 sm:grid-cols-2">
        <TextField
          label="Title"
          error={fields.title}
          name="title"
          defaultValue={line.title}
          maxLength={160}
        />
        <TextField label="Book" error={fields.book} name="book" defaultValue={line.book} maxLength={160} />
        <div className="grid grid-cols-2 gap-2">
          <TextField
            label="No."
            error={fields.number}
            name="number"
            inputMode="numeric"
            defaultValue={line.number ?? ""}
          />
          <TextField
            label="Page"
            error={fields.page}
            name="page"
            inputMode="numeric"
            defaultValue={line.page ?? ""}
          />
        </div>
        <TextField
          label="What it introduces"
          error={fields.introduces}
          name="introduces"
          defaultValue={line.introduces}
          maxLength={200}
        />
        <TextField
          label="Place in your own order"
          error={fields.teachingPlace}
          hint="where you teach it, if not where the book has it"
          name="teachingPlace"
          inputMode="numeric"
          defaultValue={line.teachingPlace ?? ""}
        />
        <TextField
          label="Why"
          error={fields.teachingReason}
          name="teachingReason"
          defaultValue={line.teachingReason}
          maxLength={200}
        />
        <div className="flex items-center gap-3">
          <button type="submit" className="btn btn-primary" disabled={!ready}>
            Keep
          </button>
          {said && <output className="text-sm text-quiet">{said}</output>}
          {problem && (
            <p role="alert" className="text-sm font-bold text-felt">
              {problem}
            </p>
          )}
        </div>
      </form>
      <PartsOfLine line={line} instruments={instruments} changed={changed} />
    </div>
  );
}

/** First, second, bass line, easy, or one instrument's own: all parts of one line. */
function PartsOfLine({
  line,
  instruments,
  changed,
}: {
  line: LineDetail;
  instruments: { id: string; name: string }[];
  changed: () => void;
}) {
  const [problem, setProblem] = useState("");
  const nameOf = (id: string) => instruments.find((each) => each.id === id)?.name ?? id;
  const remove = async (partId: string) => {
    setProblem("");
    try {
      await call("DELETE", `/api/lines/${line.id}/voices/${partId}`);
      changed();
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The part could not be taken away.");
    }
  };
  return (
    <section>
      <h3 className="text-base">Parts of this line</h3>
      <ul className="mt-1 flex flex-col gap-1">
        {line.parts.map((part, index) => (
          <li key={part.id} className="flex flex-wrap items-center gap-x-3 text-sm">
            <span className="font-bold">{index === 0 ? "The line itself" : part.name}</span>
            {part.forInstruments.length > 0 && <span>for {part.forInstruments.map(nameOf).join(", ")}</span>}
            <a className="link" href={`/shelf/write?line=${line.id}&part=${part.id}`}>
              {line.catalogued ? "type its notes" : "change the notes"}
            </a>
            {index > 0 && (
              <button type="button" className="link" onClick={() => remove(part.id)}>
                take it away
              </button>
            )}
          </li>
        ))}
      </ul>
      <p className="mt-2">
        <a className="btn btn-sm border-base-300 bg-base-100" href={`/shelf/write?line=${line.id}&part=new`}>
          Add a part: second, bass line, easy, or one instrument's own
        </a>
      </p>
      {problem && (
        <p role="alert" className="text-sm font-bold text-felt">
          {problem}
        </p>
      )}
    </section>
  );
}
