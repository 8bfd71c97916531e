import { useState } from "react";
import { call } from "../../client/api";
import { TextField } from "../../ui/Field";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { useReady } from "../../ui/use-ready";
import { AccountForm } from "./AccountForm";

interface Props {
  account: { name: string; email: string };
  me: string;
  directors: { userId: string; name: string; email: string }[];
  codesLeft: number;
}

/** The directors of the band: one's own account, one-time codes, who else directs, and the way in and out. */
export function DirectorsDesk({ account, me, directors, codesLeft }: Props) {
  return (
    <div className="grid max-w-5xl gap-4 lg:grid-cols-2">
      <div className="flex flex-col gap-4">
        <h2 className="text-xl">Your account</h2>
        <AccountForm account={account} />
        <Codes left={codesLeft} />
      </div>
      <div className="flex flex-col gap-4">
        <h2 className="text-xl">Who directs the band</h2>
        <DirectorList me={me} directors={directors} />
        <Invite />
      </div>
    </div>
  );
}

function DirectorList({ me, directors }: Pick<Props, "me" | "directors">) {
  const { busy, problem, run } = useCall();
  const [asking, setAsking] = useState<string | null>(null);
  const [gone, setGone] = useState<string[]>([]);
  const end = async (userId: string) => {
    const path = userId === me ? "/api/directors/me" : `/api/directors/${userId}`;
    const done = await run(async () => {
      await call("DELETE", path);
      return true;
    }, "This did not work.");
    setAsking(null);
    if (!done) return;
    if (userId === me) location.assign("/sign-in");
    else setGone([...gone, userId]);
  };
  return (
    <div className="panel p-4">
      <ul className="flex flex-col gap-2">
        {directors
          .filter(({ userId }) => !gone.includes(userId))
          .map(({ userId, name, email }) => (
            <li key={userId} className="flex flex-wrap items-center gap-3">
              <span>
                <b>{name}</b>
                {userId === me ? " (you)" : ""}
                <span className="block text-sm text-quiet">{email}</span>
              </span>
              {directors.length - gone.length > 1 &&
                (asking === userId ? (
                  <span className="ml-auto flex flex-wrap items-center gap-2 text-sm">
                    {userId === me ? "You are signed out at once." : `${name} is signed out at once.`}
                    <button
                      type="button"
                      className="btn btn-error btn-sm"
                      disabled={busy}
                      onClick={() => end(userId)}
                    >
                      {userId === me ? "Leave the band" : "End it"}
                    </button>
                    <button type="button" className="btn btn-ghost btn-sm" onClick={() => setAsking(null)}>
                      Stay
                    </button>
                  </span>
                ) : (
                  <button
                    type="button"
                    className="btn btn-ghost btn-sm ml-auto"
                    onClick={() => setAsking(userId)}
                  >
                    {userId === me ? "Leave" : "Directs no more"}
                  </button>
                ))}
            </li>
          ))}
      </ul>
      <Problem text={problem} className="mt-2 text-sm" />
    </div>
  );
}

function Invite() {
  const ready = useReady();
  const { busy, problem, fields, run } = useCall();
  const [sent, setSent] = useState("");
  return (
    <form
      className="panel flex flex-col gap-1 p-4"
      noValidate
      onSubmit={async (event) => {
        event.preventDefault();
        const form = event.currentTarget;
        const email = String(new FormData(form).get("email"));
        setSent("");
        if (
          await run(() => call("POST", "/api/directors", { email }), "The invitation could not be written.")
        ) {
          setSent(email);
          form.reset();
        }
      }}
    >
      <h3 className="text-xl">Invite another director</h3>
      <TextField label="E-mail" name="email" type="email" error={fields.email} maxLength={190} />
      <Problem text={problem} className="text-sm" />
      {sent && (
        <output className="text-sm text-done">
          The letter to {sent} lies in the{" "}
          <a className="link" href="/band/outbox">
            outbox
          </a>
          , with the link that lets them in.
        </output>
      )}
      <button type="submit" className="btn btn-primary self-start" disabled={!ready || busy}>
        Write the invitation
      </button>
    </form>
  );
}

function Codes({ left }: { left: number }) {
  const ready = useReady();
  const { busy, problem, fields, run } = useCall();
  const [codes, setCodes] = useState<string[]>([]);
  if (codes.length > 0) return <CodeSheet codes={codes} close={() => setCodes([])} />;
  return (
    <form
      className="panel flex flex-col gap-1 p-4"
      noValidate
      onSubmit={async (event) => {
        event.preventDefault();
        const password = new FormData(event.currentTarget).get("password");
        const answer = await run(
          () => call<{ codes: string[] }>("POST", "/api/account/codes", { password }),
          "The codes could not be made.",
        );
        if (answer) setCodes(answer.codes);
      }}
    >
      <h3 className="text-xl">One-time codes for a lost password</h3>
      <p className={`text-sm ${left === 0 ? "font-bold text-felt" : "text-quiet"}`}>
        {left === 0
          ? "You have none. Without one nobody can let you in again."
          : `${left} of them are unused. New ones end them.`}
      </p>
      <TextField
        label="The password you have now"
        name="password"
        type="password"
        error={fields.password}
        autoComplete="current-password"
      />
      <Problem text={problem} className="text-sm" />
      <button type="submit" className="btn self-start border-base-300 bg-base-100" disabled={!ready || busy}>
        Make new codes to print
      </button>
    </form>
  );
}

/** One-time codes, shown once. */
export function CodeSheet({ codes, close }: { codes: string[]; close: () => void }) {
  return (
    <section className="panel p-4" aria-label="One-time codes">
      <h3 className="text-xl">One-time codes for a lost password</h3>
      <p className="text-sm">
        Shown only now. Print them and keep the sheet away from the computer; each opens your account once.
      </p>
      <ul className="my-3 grid grid-cols-2 gap-2 font-mono text-xl">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
      <div className="no-print flex gap-2">
        <button type="button" className="btn btn-primary" onClick={() => print()}>
          Print
        </button>
        <button type="button" className="btn btn-ghost" onClick={close}>
          Done
        </button>
      </div>
    </section>
  );
}
