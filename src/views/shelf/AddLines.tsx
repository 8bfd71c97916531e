import { useState } from "react";
import { useReady } from "../../ui/use-ready";
import { CatalogueForm } from "./CatalogueForm";
import { ImportLine } from "./ImportLine";

const WAYS = { import: "Import", catalogue: "From a book" } as const;

/** Three ways onto the shelf: drop files, type notes, or only note page and number of a line in a book. */
export function AddLines({ books }: { books: string[] }) {
  const ready = useReady();
  const [way, setWay] = useState<keyof typeof WAYS>("import");
  return (
    <div className="flex flex-col gap-2">
      <h2 className="text-xl">Add lines</h2>
      <div className="flex flex-wrap gap-1">
        {(Object.keys(WAYS) as (keyof typeof WAYS)[]).map((each) => (
          <button
            key={each}
            type="button"
            disabled={!ready}
            aria-pressed={way === each}
            className={`btn btn-sm ${way === each ? "btn-primary" : "border-base-300 bg-base-100"}`}
            onClick={() => setWay(each)}
          >
            {WAYS[each]}
          </button>
        ))}
        <a className="btn btn-sm border-base-300 bg-base-100" href="/shelf/write">
          Type one
        </a>
      </div>
      {way === "import" ? <ImportLine books={books} /> : <CatalogueForm books={books} />}
    </div>
  );
}
