import { useState } from "react";
import { call } from "../client/api";
import { type CallState, useCall } from "./use-call";

/**
 * Saving something that has versions: it is based on the version that was opened, and the server refuses it when somebody
 * saved in between.
 * @param path       where it is saved
 * @param otherwise  the sentence when the server gave none
 */
export function useRevision(path: string, opened: number, otherwise: string) {
  const [version, setVersion] = useState(opened);
  const state: CallState = useCall();
  const save = async (content: object): Promise<number | null> => {
    const saved = await state.run(
      () => call<{ version: number }>("PUT", path, { basedOn: version, ...content }),
      otherwise,
    );
    if (saved) setVersion(saved.version);
    return saved?.version ?? null;
  };
  return { ...state, version, save };
}
