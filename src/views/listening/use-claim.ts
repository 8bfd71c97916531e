import { useEffect, useState } from "react";
import { call } from "../../client/api";

/** A claim is renewed so often while a take is open. */
const RENEW_MS = 60_000;

/** Keeps the open task for this director. @returns the name of another one who hears it just now */
export function useClaim(taskId: string | undefined): string | null {
  const [by, setBy] = useState<string | null>(null);
  useEffect(() => {
    setBy(null);
    if (!taskId) return;
    let gone = false;
    const claim = () =>
      call<{ by: string | null }>("PUT", `/api/tasks/${taskId}/claim`).then(
        (answer) => gone || setBy(answer.by),
        // Without an answer nobody is named; hearing goes on.
        () => undefined,
      );
    void claim();
    const renewing = setInterval(claim, RENEW_MS);
    return () => {
      gone = true;
      clearInterval(renewing);
    };
  }, [taskId]);
  return by;
}
