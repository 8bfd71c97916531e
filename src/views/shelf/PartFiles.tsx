import type { PartView } from "../../services/shelf/schema";

/** Printing, and files to take along. */
export function PartFiles({
  lineId,
  part,
  query,
}: {
  lineId: string;
  part: PartView;
  query: URLSearchParams;
}) {
  return (
    <p className="no-print mt-2 flex flex-wrap gap-2">
      <button type="button" className="btn btn-sm border-base-300 bg-base-100" onClick={() => print()}>
        Print this part
      </button>
      {[
        [`/shelf/print/${lineId}`, "Print everybody's"],
        [`/api/lines/${lineId}/files/${part.instrumentId}.musicxml?${query}`, "MusicXML of this part"],
        [`/api/lines/${lineId}/files/${part.instrumentId}.mid?${query}`, "MIDI of this part"],
        [`/api/lines/${lineId}/bundle`, "All parts (zip)"],
        ...(part.instrumentId === "concert"
          ? []
          : [[`/shelf/instruments/${part.instrumentId}`, `${part.instrumentName}: fingerings`]]),
      ].map(([href, name]) => (
        <a key={href} className="btn btn-sm border-base-300 bg-base-100" href={href}>
          {name}
        </a>
      ))}
    </p>
  );
}
