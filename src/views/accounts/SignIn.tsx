import { zodResolver } from "@hookform/resolvers/zod";
import { useEffect, useState } from "react";
import { useForm } from "react-hook-form";
import type { z } from "zod";
import { ApiError, call } from "../../client/api";
import { forgetPlayer } from "../../client/offline";
import { takesWaiting } from "../../client/outbox";
import { DirectorSignIn, StudentSignIn } from "../../services/accounts/schema";
import { Field } from "../../ui/Field";
import { useReady } from "../../ui/use-ready";

const input = "input w-full border-neutral";

/** @param next  where the person was going, a path of this application */
export function SignIn({ again, next }: { again: boolean; next: string }) {
  const ready = useReady();
  const [who, setWho] = useState<"student" | "director">(
    next && !next.startsWith("/stand") ? "director" : "student",
  );
  const card = useCard();
  // Nobody is signed in here: nothing of the one before stays but what was not sent.
  useEffect(() => void forgetPlayer(), []);
  const [refusal, setRefusal] = useState(
    again ? "Your session has ended. Please sign in again; what you recorded is still on this device." : "",
  );
  const enter = async (path: string, values: unknown) => {
    setRefusal("");
    try {
      const home = (await call<{ next: string }>("POST", path, values)).next;
      // A player's link leads a player on, a director's a director.
      location.assign(next && next.startsWith("/stand") === (home === "/stand") ? next : home);
    } catch (error) {
      setRefusal(
        error instanceof ApiError ? error.message : "Signing in did not work. Try again in a moment.",
      );
    }
  };
  return (
    <div className="flex flex-col gap-4">
      <div className="grid grid-cols-2 gap-2" role="tablist" aria-label="Who is signing in">
        {(["student", "director"] as const).map((each) => (
          <button
            key={each}
            type="button"
            role="tab"
            disabled={!ready}
            aria-selected={who === each}
            onClick={() => setWho(each)}
            className={`btn h-11 ${who === each ? "btn-primary" : "border-base-300 bg-base-100"}`}
          >
            {each === "student" ? "I play in the band" : "I direct the band"}
          </button>
        ))}
      </div>
      {refusal && (
        <p role="alert" className="rounded border border-felt bg-base-100 p-3 text-felt">
          {refusal}
        </p>
      )}
      <Waiting />
      {who === "student" ? (
        <StudentForm key={card.name} enter={enter} card={card} />
      ) : (
        <DirectorForm enter={enter} />
      )}
      {who === "director" && (
        <p className="flex justify-between text-sm">
          <a className="link" href="/recover">
            Lost your password?
          </a>
          <a className="link" href="/new-band">
            Make a band with an invitation code
          </a>
        </p>
      )}
    </div>
  );
}

type Enter = (path: string, values: unknown) => Promise<void>;

/** Class code and name from a card's square: they stand behind the # of the address. */
function useCard(): { classCode: string; name: string } {
  const [card, setCard] = useState({ classCode: "", name: "" });
  useEffect(() => {
    const read = () => {
      const given = new URLSearchParams(location.hash.slice(1));
      setCard({ classCode: given.get("class") ?? "", name: given.get("name") ?? "" });
    };
    read();
    addEventListener("hashchange", read);
    return () => removeEventListener("hashchange", read);
  }, []);
  return card;
}

function StudentForm({ enter, card }: { enter: Enter; card: { classCode: string; name: string } }) {
  const { register, handleSubmit, formState } = useForm<
    z.input<typeof StudentSignIn>,
    unknown,
    z.output<typeof StudentSignIn>
  >({ resolver: zodResolver(StudentSignIn), defaultValues: { ...card, words: "" } });
  const { errors, isSubmitting } = formState;
  const ready = useReady();
  return (
    <form
      noValidate
      onSubmit={handleSubmit((values) => enter("/api/sign-in/student", values))}
      className="flex flex-col gap-2"
    >
      <Field label="Class code" error={errors.classCode?.message}>
        <input
          className={input}
          autoComplete="organization"
          autoCapitalize="characters"
          {...register("classCode")}
        />
      </Field>
      <Field label="Your name" error={errors.name?.message} hint="As it stands on your card">
        <input className={input} autoComplete="name" {...register("name")} />
      </Field>
      <Field label="Your four words" error={errors.words?.message} hint="In their order, with spaces between">
        <input
          className={input}
          autoComplete="current-password"
          autoCapitalize="none"
          spellCheck={false}
          // biome-ignore lint/a11y/noAutofocus: the card has filled in the rest
          autoFocus={card.name !== ""}
          {...register("words")}
        />
      </Field>
      <button type="submit" className="btn btn-primary h-12" disabled={isSubmitting || !ready}>
        {isSubmitting ? "Looking …" : "Go to my stand"}
      </button>
    </form>
  );
}

function DirectorForm({ enter }: { enter: Enter }) {
  const { register, handleSubmit, formState } = useForm<
    z.input<typeof DirectorSignIn>,
    unknown,
    z.output<typeof DirectorSignIn>
  >({ resolver: zodResolver(DirectorSignIn) });
  const { errors, isSubmitting } = formState;
  const ready = useReady();
  return (
    <form
      noValidate
      onSubmit={handleSubmit((values) => enter("/api/sign-in/director", values))}
      className="flex flex-col gap-2"
    >
      <Field label="E-mail" error={errors.email?.message}>
        <input className={input} type="email" autoComplete="username" {...register("email")} />
      </Field>
      <Field label="Password" error={errors.password?.message}>
        <input className={input} type="password" autoComplete="current-password" {...register("password")} />
      </Field>
      <button type="submit" className="btn btn-primary h-12" disabled={isSubmitting || !ready}>
        {isSubmitting ? "Looking …" : "Open the week"}
      </button>
    </form>
  );
}

/** Takes that wait on this device for their owners: named, and opened for nobody else. */
function Waiting() {
  const [waiting, setWaiting] = useState<{ name: string; takes: number }[]>([]);
  useEffect(() => {
    takesWaiting().then(setWaiting, () => undefined);
  }, []);
  if (waiting.length === 0) return null;
  return (
    <div className="panel p-3" data-testid="waiting">
      {waiting.map(({ name, takes }) => (
        <p key={name}>
          {takes === 1 ? "A take" : `${takes} takes`} of {name} {takes === 1 ? "waits" : "wait"} on this
          device until {name} signs in again.
        </p>
      ))}
    </div>
  );
}
