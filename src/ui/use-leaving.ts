import { useEffect } from "react";

/** What is not saved is not left by mistake: the browser asks before the page is closed, reloaded or left. */
export function useLeaving(unsaved: boolean): void {
  useEffect(() => {
    if (!unsaved) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    addEventListener("beforeunload", ask);
    return () => removeEventListener("beforeunload", ask);
  }, [unsaved]);
}
