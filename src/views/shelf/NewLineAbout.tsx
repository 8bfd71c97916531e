import type { Entry } from "../../core/score";
import { TextField } from "../../ui/Field";
import { LineHead } from "./WriteAbout";

export interface NewLine {
  title: string;
  number: string;
  page: string;
  book: string;
  /** Of a further part. */
  name: string;
}

interface Props {
  about: NewLine;
  setAbout: (about: NewLine) => void;
  fields: Record<string, string>;
  entry: Entry;
  change: (make: (entry: Entry) => Entry) => void;
}

/** What stands about a line that is typed: title, book, number, and its key, metre and tempo. */
export function NewLineAbout({ about, setAbout, fields, entry, change }: Props) {
  return (
    <>
      <TextField
        label="Title"
        error={fields.title}
        maxLength={160}
        value={about.title}
        onChange={(event) => setAbout({ ...about, title: event.target.value })}
      />
      <TextField
        label="Book"
        error={fields.book}
        maxLength={160}
        value={about.book}
        onChange={(event) => setAbout({ ...about, book: event.target.value })}
      />
      <div className="grid grid-cols-2 gap-2">
        <TextField
          label="No."
          error={fields.number}
          inputMode="numeric"
          value={about.number}
          onChange={(event) => setAbout({ ...about, number: event.target.value })}
        />
        <TextField
          label="Page"
          error={fields.page}
          inputMode="numeric"
          value={about.page}
          onChange={(event) => setAbout({ ...about, page: event.target.value })}
        />
      </div>
      <LineHead entry={entry} change={change} />
    </>
  );
}
