import { useState } from "react";
import { call } from "../../client/api";
import { TextField } from "../../ui/Field";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { useReady } from "../../ui/use-ready";

/** The director's own sign-in: the password of today opens every change. */
export function AccountForm({ account }: { account: { name: string; email: string } }) {
  const { busy, problem, fields, run } = useCall();
  const ready = useReady();
  const [done, setDone] = useState("");
  const submit = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const typed = Object.fromEntries(new FormData(form));
    setDone("");
    if (!(await run(() => call("PUT", "/api/account", typed), "This could not be saved."))) return;
    setDone(
      typed.newPassword
        ? "Saved. Every other device has to sign in with the new password."
        : "Saved. This is how your players see you from now on.",
    );
    for (const field of ["password", "newPassword"])
      (form.elements.namedItem(field) as HTMLInputElement).value = "";
  };
  return (
    <form onSubmit={submit} className="panel flex max-w-lg flex-col gap-1 p-4" noValidate>
      <TextField
        label="Your name"
        error={fields.name}
        name="name"
        defaultValue={account.name}
        maxLength={120}
        autoComplete="name"
      />
      <TextField
        label="E-mail"
        error={fields.email}
        name="email"
        type="email"
        defaultValue={account.email}
        maxLength={190}
        autoComplete="username"
      />
      <TextField
        label="New password"
        error={fields.newPassword}
        hint="Leave it empty to keep the one you have. At least 12 letters."
        name="newPassword"
        type="password"
        maxLength={200}
        autoComplete="new-password"
      />
      <TextField
        label="The password you have now"
        error={fields.password}
        name="password"
        type="password"
        maxLength={200}
        autoComplete="current-password"
      />
      <Problem text={problem} />
      {done && <output className="font-bold text-done">{done}</output>}
      <button type="submit" className="btn btn-primary mt-1 self-start" disabled={!ready || busy}>
        Save
      </button>
    </form>
  );
}
