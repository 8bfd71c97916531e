import { useState } from "react";
import { call } from "../../client/api";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

interface Props {
  /** A phone that joins a lesson, or somebody who stands in. */
  kind: "remote" | "lead";
}

/** A code that opens a lesson. */
export function CodeForm({ kind }: Props) {
  const [code, setCode] = useState("");
  const { run, busy, problem } = useCall();
  const enter = async () => {
    const found = await run(
      () =>
        call<{ roomId?: string }>("POST", kind === "remote" ? "/api/room/join" : "/api/room/lead", { code }),
      "The code could not be looked up. Try again in a moment.",
    );
    if (found) location.assign(kind === "remote" ? `/remote/${found.roomId}` : "/lead");
  };
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        void enter();
      }}
    >
      <label className="flex flex-col gap-1">
        Code
        <input
          className="input w-full border-neutral text-xl uppercase tracking-widest"
          value={code}
          maxLength={40}
          autoComplete="off"
          autoCapitalize="characters"
          spellCheck={false}
          onChange={({ target }) => setCode(target.value)}
        />
      </label>
      <button type="submit" className="btn btn-primary" disabled={busy || code.trim() === ""}>
        {kind === "remote" ? "Join the lesson" : "See the lessons"}
      </button>
      <Problem text={problem} />
    </form>
  );
}
