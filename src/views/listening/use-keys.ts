import { useEffect, useState } from "react";

const OFF = "ulu-listen-keys-off";

/** Whether single letters and figures act on the desk; kept on this device (WCAG 2.2, 2.1.4). */
export function useSingleKeys(): [on: boolean, set: (on: boolean) => void] {
  const [on, setOn] = useState(() => !areKeysOff());
  return [
    on,
    (now) => {
      setOn(now);
      try {
        if (now) localStorage.removeItem(OFF);
        else localStorage.setItem(OFF, "yes");
      } catch {
        // A private window forgets it.
      }
    },
  ];
}

function areKeysOff(): boolean {
  try {
    return localStorage.getItem(OFF) !== null;
  } catch {
    return false;
  }
}

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
