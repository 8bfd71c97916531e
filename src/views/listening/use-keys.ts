import { useEffect } from "react";
import { actOf, areKeysOff } from "./keys";

/**
 * One key, one act, wherever the focus is but in a field; acts are called by their usual letter. A held key acts once: nothing happens to a child's take because
 * somebody leaned on Enter.
 */
export function useKeys(acts: Record<string, () => void>): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const types = target.matches("input:not([type=radio]), textarea, select");
      const presses =
        target.matches("button, a, summary, input[type=radio]") &&
        (event.key === " " || event.key === "Enter");
      const act = acts[actOf(event.key.toLowerCase(), Object.keys(acts)) ?? ""];
      const letter = event.key.length === 1 && event.key !== " " && event.key !== "?";
      if (!act || types || (letter && areKeysOff()) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.repeat) return event.preventDefault();
      if (presses) return;
      event.preventDefault();
      act();
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  });
}
