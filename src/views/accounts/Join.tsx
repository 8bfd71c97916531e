import { useEffect, useState } from "react";
import { call } from "../../client/api";
import { TextField } from "../../ui/Field";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

/** An invitation to direct a band, accepted. The token stands behind the # of the address and never in a log. */
export function Join() {
  const { busy, problem, fields, run } = useCall();
  const [token, setToken] = useState("");
  const [invitation, setInvitation] = useState<{ band: string; email: string } | null>(null);
  useEffect(() => {
    const found = location.hash.slice(1);
    setToken(found);
    void run(
      () => call<{ band: string; email: string }>("POST", "/api/directors/invitation", { token: found }),
      "The invitation could not be read.",
    ).then((answer) => answer && setInvitation(answer));
  }, [run]);
  if (!invitation) return <Problem text={problem} />;
  return (
    <form
      className="flex flex-col gap-1"
      noValidate
      onSubmit={async (event) => {
        event.preventDefault();
        const typed = Object.fromEntries(new FormData(event.currentTarget));
        const answer = await run(
          () => call<{ next: string }>("POST", "/api/directors/accepted", { ...typed, token }),
          "This did not work. Try again in a moment.",
        );
        if (answer) location.assign(answer.next);
      }}
    >
      <p className="mb-2">
        You are invited to direct <b>{invitation.band}</b>. You will sign in with {invitation.email}.
      </p>
      <TextField
        label="Your name"
        name="name"
        error={fields.name}
        hint="As your players see it"
        autoComplete="name"
      />
      <TextField
        label="Password"
        name="newPassword"
        type="password"
        error={fields.newPassword}
        hint="At least 12 letters."
        autoComplete="new-password"
      />
      <Problem text={problem} />
      <button type="submit" className="btn btn-primary h-12" disabled={busy}>
        Open the band
      </button>
    </form>
  );
}
