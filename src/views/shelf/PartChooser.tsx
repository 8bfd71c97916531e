import type { LineDetail, PartView } from "../../services/shelf/schema";
import { useReady } from "../../ui/use-ready";

const STAGES = [
  ["five-notes", "Five notes"],
  ["small-tunes", "Small tunes"],
  ["widening", "Widening"],
] as const;

interface Props {
  line: LineDetail;
  part: PartView;
  instruments: { id: string; name: string }[];
  stage: string;
  partId: string | null;
  show: (instrumentId: string, stage: string, partId: string | null) => void;
}

/** Whose part is shown: instrument, which part of the line it is made from, and for which stage. */
export function PartChooser({ line, part, instruments, stage, partId, show }: Props) {
  const ready = useReady();
  return (
    <div className="no-print flex flex-wrap items-center gap-3">
      <label className="flex items-center gap-2">
        <span className="font-bold">Part</span>
        <select
          className="select border-neutral"
          disabled={!ready}
          value={part.instrumentId}
          onChange={(event) => show(event.target.value, stage, partId)}
        >
          <option value="concert">Concert pitch</option>
          {instruments.map((instrument) => (
            <option key={instrument.id} value={instrument.id}>
              {instrument.name}
            </option>
          ))}
        </select>
      </label>
      {line.parts.length > 1 && (
        <label className="flex items-center gap-2">
          <span className="font-bold">from</span>
          <select
            className="select w-auto border-neutral"
            disabled={!ready}
            value={partId ?? ""}
            onChange={(event) => show(part.instrumentId, stage, event.target.value || null)}
          >
            <option value="">its own, else the line</option>
            {line.parts.map((each, index) => (
              <option key={each.id} value={each.id}>
                {index === 0 ? "the line itself" : each.name}
              </option>
            ))}
          </select>
        </label>
      )}
      <label className="flex items-center gap-2">
        <span className="font-bold">Stage</span>
        <select
          className="select border-neutral"
          disabled={!ready}
          value={stage}
          onChange={(event) => show(part.instrumentId, event.target.value, partId)}
        >
          {STAGES.map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <p className="text-quiet" aria-live="polite">
        {part.instrumentName}: {part.key}
        {part.octaveShift !== 0 &&
          `, ${Math.abs(part.octaveShift)} octave${Math.abs(part.octaveShift) > 1 ? "s" : ""} ${part.octaveShift > 0 ? "higher" : "lower"} ${part.octaveBy === "director" ? "as you chose" : "to fit the stage"}`}
      </p>
    </div>
  );
}
