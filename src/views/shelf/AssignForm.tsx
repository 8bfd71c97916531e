import { useState } from "react";
import type { LineDetail } from "../../services/shelf/schema";
import { Field } from "../../ui/Field";
import { GiveForm } from "../../ui/GiveForm";
import { ForWhom, type Only, type Person } from "./ForWhom";

interface Props {
  due: string;
  line: LineDetail;
  groups: { id: string; name: string; players: number }[];
  people: readonly Person[];
  instruments: readonly { id: string; name: string }[];
}

/** Gives a line to a group. */
export function AssignForm({ line, groups, people, instruments, due }: Props) {
  const bars = line.barRelations;
  const [from, setFrom] = useState(0);
  const [to, setTo] = useState(bars.length - 1);
  const [only, setOnly] = useState<Only | null>(null);
  const [parts, setParts] = useState<Record<string, string>>({});
  const whole = from === 0 && to === bars.length - 1;
  return (
    <GiveForm
      heading="Assign"
      groups={groups}
      bpm={line.bpm}
      path="/api/assignments"
      due={due}
      extra={{ lineId: line.id, firstBar: whole ? null : from, lastBar: whole ? null : to, only, parts }}
      bars={line.catalogued ? [] : bars.map(({ number }) => number)}
      range={[from, to]}
      note={
        line.catalogued && (
          <p className="mb-1 text-sm text-quiet">
            The notes are in the book only: takes are answered with rhythm, level and tuning.
          </p>
        )
      }
      fields={(problemOf, groupId) => (
        <>
          <ForWhom people={inGroup(people, groupId)} instruments={instruments} only={only} choose={setOnly} />
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
          {line.parts.length > 1 && (
            <PartsOfPlayers
              people={inGroup(people, groupId).filter(({ id }) => only?.playerIds?.includes(id) ?? true)}
              line={line}
              parts={parts}
              choose={setParts}
            />
          )}
        </>
      )}
    />
  );
}

const inGroup = (people: readonly Person[], groupId: string) =>
  people.filter(({ groupIds }) => groupIds.includes(groupId));

/** Another part for single players: a second clarinet, an easy part for who came late. */
function PartsOfPlayers({
  people,
  line,
  parts,
  choose,
}: {
  people: readonly Person[];
  line: LineDetail;
  parts: Record<string, string>;
  choose: (parts: Record<string, string>) => void;
}) {
  return (
    <details className="mb-1 text-sm">
      <summary className="cursor-pointer font-bold">
        Parts of single players{Object.keys(parts).length > 0 ? ` (${Object.keys(parts).length})` : ""}
      </summary>
      <div className="mt-1 flex max-h-48 flex-col gap-1 overflow-y-auto">
        {people.map(({ id, name }) => (
          <label key={id} className="flex items-center justify-between gap-2">
            {name}
            <select
              className="select select-sm w-40 border-neutral"
              value={parts[id] ?? ""}
              onChange={(event) => {
                const { [id]: _before, ...others } = parts;
                choose(event.target.value ? { ...others, [id]: event.target.value } : others);
              }}
            >
              <option value="">their own</option>
              {line.parts.map((part) => (
                <option key={part.id} value={part.id}>
                  {part.name}
                </option>
              ))}
            </select>
          </label>
        ))}
      </div>
    </details>
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
