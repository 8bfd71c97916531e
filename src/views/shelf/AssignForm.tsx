import { useState } from "react";
import type { LineDetail } from "../../services/shelf/schema";
import { Field } from "../../ui/Field";
import { GiveForm } from "../../ui/GiveForm";

interface Props {
  due: string;
  line: LineDetail;
  groups: { id: string; name: string; players: number; instruments: string[] }[];
}

/** Gives a line to a group. */
export function AssignForm({ line, groups, due }: Props) {
  const bars = line.barRelations;
  const [from, setFrom] = useState(0);
  const [to, setTo] = useState(bars.length - 1);
  const whole = from === 0 && to === bars.length - 1;
  return (
    <GiveForm
      heading="Assign"
      groups={groups}
      bpm={line.bpm}
      path="/api/assignments"
      due={due}
      extra={{ lineId: line.id, firstBar: whole ? null : from, lastBar: whole ? null : to }}
      note={
        line.catalogued && (
          <p className="mb-1 text-sm text-quiet">
            The notes are in the book only: takes are answered with rhythm, level and tuning.
          </p>
        )
      }
      fields={(problemOf) => (
        <>
          {bars.length > 1 && (
            <Field
              label="Bars"
              error={problemOf("firstBar")}
              hint={whole ? "the whole line" : "only these bars are shown and recorded"}
            >
              <span className="flex items-center gap-2">
                <BarSelect
                  label="From bar"
                  bars={bars}
                  value={from}
                  choose={(bar) => {
                    setFrom(bar);
                    setTo(Math.max(to, bar));
                  }}
                />
                to
                <BarSelect
                  label="To bar"
                  bars={bars}
                  value={to}
                  choose={(bar) => {
                    setTo(bar);
                    setFrom(Math.min(from, bar));
                  }}
                />
              </span>
            </Field>
          )}
          {line.parts.length > 1 && (
            <Field label="Part" error={problemOf("partId")}>
              <select name="partId" className="select w-full border-neutral">
                <option value="">each player's own, else the line</option>
                {line.parts.slice(1).map((part) => (
                  <option key={part.id} value={part.id}>
                    {part.name} for everybody in the group
                  </option>
                ))}
              </select>
            </Field>
          )}
        </>
      )}
    />
  );
}

function BarSelect({
  label,
  bars,
  value,
  choose,
}: {
  label: string;
  bars: LineDetail["barRelations"];
  value: number;
  choose: (bar: number) => void;
}) {
  return (
    <select
      aria-label={label}
      className="select w-20 border-neutral"
      value={value}
      onChange={(event) => choose(Number(event.target.value))}
    >
      {bars.map((bar, index) => (
        <option key={bar.measureIndex} value={index}>
          {bar.number}
        </option>
      ))}
    </select>
  );
}
