import type { LineDetail, PartView } from "../../services/shelf/schema";

/** What is known of a line whose notes stay in a copyrighted book. */
export function InTheBook({ line, part }: { line: LineDetail; part: PartView }) {
  return (
    <section className="panel p-4">
      <h2 className="text-xl">The notes are in the book only</h2>
      <p className="mt-1">
        {[line.book, line.page ? `page ${line.page}` : "", line.number ? `No. ${line.number}` : ""]
          .filter(Boolean)
          .join(", ")}
        {line.book || line.page || line.number ? ": " : ""}
        {line.bars} {line.bars === 1 ? "bar" : "bars"} of {line.metre} in concert {line.concertKey},{" "}
        {part.instrumentId === "concert" ? "" : `${part.key} for ${part.instrumentName}, `}
        {line.bpm} bpm. It can be given and recorded; takes are answered with rhythm, level and tuning, not
        with wrong notes. Type or import its notes to get parts, fingerings and full answers.
      </p>
    </section>
  );
}
