import type { LineDetail } from "../../services/shelf/schema";
import { Field } from "../../ui/Field";
import { GiveForm } from "../../ui/GiveForm";

interface Props {
  line: LineDetail;
  groups: { id: string; name: string; players: number; instruments: string[] }[];
}

/** Gives a line to a group. */
export function AssignForm({ line, groups }: Props) {
  return (
    <GiveForm
      heading="Assign"
      groups={groups}
      bpm={line.bpm}
      path="/api/assignments"
      extra={{ lineId: line.id }}
      note={
        line.catalogued && (
          <p className="mb-1 text-sm text-quiet">
            The notes are in the book only: takes are answered with rhythm, level and tuning.
          </p>
        )
      }
      fields={(problemOf) =>
        line.parts.length > 1 && (
          <Field label="Part" error={problemOf("partId")}>
            <select name="partId" className="select w-full border-neutral">
              <option value="">each instrument's own, else the line</option>
              {line.parts.slice(1).map((part) => (
                <option key={part.id} value={part.id}>
                  {part.name} for everybody in the group
                </option>
              ))}
            </select>
          </Field>
        )
      }
    />
  );
}
