import { useState } from "react";
import { call } from "../../client/api";
import { Field, TextField } from "../../ui/Field";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { useReady } from "../../ui/use-ready";
import { CodeSheet } from "../band/DirectorsDesk";

/** A band of one's own, opened with an invitation code. */
export function NewBand({ zones }: { zones: string[] }) {
  const ready = useReady();
  const { busy, problem, fields, run } = useCall();
  const [codes, setCodes] = useState<string[]>([]);
  if (codes.length > 0) return <CodeSheet codes={codes} close={() => location.assign("/band")} />;
  const here = ready ? Intl.DateTimeFormat().resolvedOptions().timeZone : "";
  return (
    <form
      className="flex flex-col gap-1"
      noValidate
      onSubmit={async (event) => {
        event.preventDefault();
        const typed = Object.fromEntries(new FormData(event.currentTarget));
        const answer = await run(
          () => call<{ codes: string[] }>("POST", "/api/band", typed),
          "This did not work. Try again in a moment.",
        );
        if (answer) setCodes(answer.codes);
      }}
    >
      <TextField
        label="Invitation code"
        name="code"
        error={fields.code}
        hint="From whoever runs this bench"
        autoCapitalize="characters"
      />
      <TextField label="Name of the band" name="name" error={fields.name} maxLength={120} />
      <TextField label="Town or school" name="town" error={fields.town} maxLength={120} />
      <TextField
        label="Class code"
        name="classCode"
        error={fields.classCode}
        hint="Stands on every card: 4 to 24 letters, digits or dashes, such as HARBOUR-7"
        maxLength={24}
      />
      <Field label="Time zone" error={fields.timeZone}>
        <select name="timeZone" className="select w-full border-neutral" key={here} defaultValue={here}>
          {zones.map((zone) => (
            <option key={zone}>{zone}</option>
          ))}
        </select>
      </Field>
      <TextField
        label="Your name"
        name="directorName"
        error={fields.directorName}
        hint="As your players see it"
        autoComplete="name"
      />
      <TextField label="E-mail" name="email" type="email" error={fields.email} autoComplete="username" />
      <TextField
        label="Password"
        name="password"
        type="password"
        error={fields.password}
        hint="At least 12 letters; four words do well."
        autoComplete="new-password"
      />
      <Problem text={problem} />
      <button type="submit" className="btn btn-primary h-12" disabled={!ready || busy}>
        Make the band
      </button>
    </form>
  );
}
