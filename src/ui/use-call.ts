import { useCallback, useRef, useState } from "react";
import { ApiError } from "../client/api";

export interface CallState {
  busy: boolean;
  /** One sentence about what did not work, or nothing. */
  problem: string;
  /** Sentences by field of a form. */
  fields: Record<string, string>;
  /**
   * Runs work that calls the server, once at a time: a second press while the first is under way does nothing.
   * @param otherwise  the sentence when the server gave none
   * @returns the work's answer; undefined when it failed or did not run
   */
  run<T>(work: () => Promise<T>, otherwise: string): Promise<T | undefined>;
  /** Says something without a call, or takes it back with nothing. */
  say(problem: string): void;
}

/** Calling the server from a view: whether it is under way, and what went wrong, in words. */
export function useCall(): CallState {
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState("");
  const [fields, setFields] = useState<Record<string, string>>({});
  const underWay = useRef(false);
  const run = useCallback(async <T>(work: () => Promise<T>, otherwise: string) => {
    if (underWay.current) return undefined;
    underWay.current = true;
    setBusy(true);
    setProblem("");
    setFields({});
    try {
      return await work();
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : otherwise);
      setFields(error instanceof ApiError ? error.fields : {});
      return undefined;
    } finally {
      underWay.current = false;
      setBusy(false);
    }
  }, []);
  return { busy, problem, fields, run, say: setProblem };
}
