import { useState } from "react";
import { call } from "../../client/api";
import { TextField } from "../../ui/Field";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { useReady } from "../../ui/use-ready";

/** A lost password: one of the printed codes opens the account once. */
export function Recover() {
  const ready = useReady();
  const { busy, problem, fields, run } = useCall();
  const [done, setDone] = useState(false);
  if (done)
    return (
      <p className="panel p-4">
        Your new password holds, and every other sign-in of your account has ended.{" "}
        <a className="link" href="/sign-in">
          Sign in
        </a>
      </p>
    );
  return (
    <form
      className="flex flex-col gap-1"
      noValidate
      onSubmit={async (event) => {
        event.preventDefault();
        const typed = Object.fromEntries(new FormData(event.currentTarget));
        if (
          await run(
            () => call("POST", "/api/account/recovered", typed),
            "This did not work. Try again in a moment.",
          )
        )
          setDone(true);
      }}
    >
      <TextField label="E-mail" name="email" type="email" error={fields.email} autoComplete="username" />
      <TextField
        label="One of your one-time codes"
        name="code"
        error={fields.code}
        hint="From the sheet that was printed with your account. Each opens it once."
        autoCapitalize="characters"
      />
      <TextField
        label="New password"
        name="newPassword"
        type="password"
        error={fields.newPassword}
        hint="At least 12 letters."
        autoComplete="new-password"
      />
      <Problem text={problem} />
      <button type="submit" className="btn btn-primary h-12" disabled={!ready || busy}>
        Set the new password
      </button>
    </form>
  );
}
