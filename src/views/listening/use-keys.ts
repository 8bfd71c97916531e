import { useEffect } from "react";

/**
 * One key, one act, wherever the focus is but in a field. A held key acts once: nothing happens to a child's take because
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
      const act = acts[event.key.toLowerCase()];
      if (!act || types || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.repeat) return event.preventDefault();
      if (presses) return;
      event.preventDefault();
      act();
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  });
}
