import type { BrokenLine } from "../../services/shelf/schema";
import { ArchiveLine } from "./ArchiveLine";

/** Lines that cannot be shown, each with its reason and the way out. */
export function BrokenLines({ lines }: { lines: BrokenLine[] }) {
  if (lines.length === 0) return null;
  return (
    <section className="rounded border border-felt bg-base-100 p-3">
      <h2 className="text-base text-felt">
        {lines.length === 1 ? "1 line cannot be shown" : `${lines.length} lines cannot be shown`}
      </h2>
      <ul className="flex flex-col gap-2">
        {lines.map((line) => (
          <li key={line.id} className="text-sm">
            <p>
              <span className="font-bold">
                {line.number ? `No. ${line.number} · ` : ""}
                {line.title}:
              </span>{" "}
              {line.reason}.
            </p>
            <ArchiveLine lineId={line.id} given={line.assigned > 0} />
          </li>
        ))}
      </ul>
    </section>
  );
}
