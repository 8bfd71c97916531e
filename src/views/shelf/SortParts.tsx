import { INSTRUMENTS } from "../../core/music";
import type { FileLook } from "../../services/shelf/schema";
import { Pick } from "../../ui/Pick";

type PartRow = FileLook["parts"][number];

interface Props {
  look: FileLook;
  change: (parts: PartRow[]) => void;
  chords: "top" | "bottom";
  setChords: (chords: "top" | "bottom") => void;
}

const USES: Record<string, string> = {
  line: "the line, for everybody",
  part: "a part to choose",
  leave: "leave it out",
};
const CHOICES = { ...USES, ...Object.fromEntries(INSTRUMENTS.map(({ id, name }) => [id, `for ${name}`])) };

/** What a file holds, before it is stored: which part is the line, which is for whom, which is left out. */
export function SortParts({ look, change, chords, setChords }: Props) {
  const set = (row: PartRow, choice: string) =>
    change(
      look.parts.map((part) => {
        if (part.id === row.id)
          return { ...part, use: choice in USES ? (choice as "line") : { instrumentId: choice } };
        // Only one part is the line: the one before becomes a part to choose.
        return choice === "line" && part.use === "line" ? { ...part, use: "part" as const } : part;
      }),
    );
  return (
    <section className="flex flex-col gap-2" aria-live="polite">
      {look.before && (
        <p className="rounded border border-accent p-2 text-sm">
          {look.before.sameNotes ? "These notes are" : "A file of this name is"} on the shelf already:{" "}
          <a className="link" href={`/shelf/${look.before.lineId}`}>
            {look.before.title}
          </a>
          . Put it there once more only if you want two.
        </p>
      )}
      {look.parts.length > 1 && (
        <>
          <h3 className="font-bold">
            {look.parts.length} parts in “{look.title}”
          </h3>
          <ul className="flex flex-col divide-y divide-base-300">
            {look.parts.map((part) => (
              <li key={part.id} className="flex flex-col gap-1 py-1.5 text-sm">
                <span>
                  <span className="font-bold">{part.name}</span>{" "}
                  <span className="text-quiet">
                    {part.notes} {part.notes === 1 ? "note" : "notes"}
                    {part.range && `, ${part.range[0]} to ${part.range[1]}`}
                  </span>
                </span>
                <select
                  className="select select-sm w-full border-neutral"
                  aria-label={`What becomes of ${part.name}`}
                  value={typeof part.use === "object" ? part.use.instrumentId : part.use}
                  onChange={(event) => set(part, event.target.value)}
                >
                  {Object.entries(CHOICES).map(([id, words]) => (
                    <option key={id} value={id}>
                      {words}
                    </option>
                  ))}
                </select>
              </li>
            ))}
          </ul>
        </>
      )}
      {look.hasChords && (
        <Pick
          label="Of a chord keep"
          value={chords}
          options={{ top: "the top note", bottom: "the lowest note" }}
          choose={setChords}
        />
      )}
      {look.notUnderstood.length > 0 && (
        <details className="text-sm">
          <summary className="cursor-pointer">What will be left out or changed</summary>
          <ul className="ml-5 list-disc">
            {look.notUnderstood.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
