import { useEffect, useState, useSyncExternalStore } from "react";
import { call } from "../../client/api";
import { openPlan } from "../../client/plan";
import type { RibbonView, SavedPlan } from "../../services/week/schema";

/** Asks what others changed, ms. */
const LOOK_MS = 20_000;

/** The plan of a page: saved by itself, also when the page is left. */
export function usePlan(view: RibbonView) {
  const [plan] = useState(() =>
    openPlan(view, (sent) => call<SavedPlan>("PUT", "/api/plan/strips", sent, { keepalive: true })),
  );
  const now = useSyncExternalStore(plan.subscribe, plan.state, plan.state);
  useEffect(() => {
    const look = () => {
      if (document.visibilityState === "visible") plan.look();
      else plan.leave();
    };
    const every = setInterval(look, LOOK_MS);
    window.addEventListener("focus", look);
    document.addEventListener("visibilitychange", look);
    window.addEventListener("pagehide", plan.leave);
    return () => {
      clearInterval(every);
      window.removeEventListener("focus", look);
      document.removeEventListener("visibilitychange", look);
      window.removeEventListener("pagehide", plan.leave);
    };
  }, [plan]);
  return { ...plan, ...now };
}

export type Plan = ReturnType<typeof usePlan>;
