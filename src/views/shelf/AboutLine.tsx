import { useState } from "react";
import { call } from "../../client/api";
import type { LineDetail } from "../../services/shelf/schema";
import { TextField } from "../../ui/Field";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { useReady } from "../../ui/use-ready";
import { ArchiveLine } from "./ArchiveLine";

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
  const [said, setSaid] = useState("");
  const { problem, fields, run } = useCall();

  const save = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = Object.fromEntries(new FormData(event.currentTarget)) as Record<string, string>;
    setSaid("");
    const number = (text: string | undefined) => (text?.trim() ? Number(text) : null);
    const kept = await run(
      () =>
        call("PUT", `/api/lines/${line.id}`, {
          ...form,
          number: number(form.number),
          page: number(form.page),
          teachingPlace: number(form.teachingPlace),
        }),
      "This could not be kept.",
    );
    if (!kept) return;
    setSaid("Kept.");
    changed();
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
          <Problem text={problem} className="text-sm" />
        </div>
      </form>
      <PartsOfLine line={line} instruments={instruments} changed={changed} />
      {!line.archived && <ArchiveLine lineId={line.id} given={line.given} />}
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
  const { problem, run } = useCall();
  const nameOf = (id: string) => instruments.find((each) => each.id === id)?.name ?? id;
  const remove = async (partId: string) => {
    const done = await run(
      () => call("DELETE", `/api/lines/${line.id}/voices/${partId}`),
      "The part could not be taken away.",
    );
    if (done) changed();
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
