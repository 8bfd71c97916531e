import { IDLE_SEC } from "../core/practice";

/** Signs of life of whoever sits before the page. */
const SIGNS = ["pointerdown", "keydown", "touchstart"] as const;
const TICK_MS = 1000;

let counted = 0;
let lastSign = 0;
let running = false;

/**
 * Counts the seconds in which somebody practises: from one sign of life to IDLE_SEC after the last, while the page is seen.
 * Sound and recordings are signs of life too, by `alive`.
 */
export function countActivity(): () => void {
  if (running) return () => undefined;
  running = true;
  const sign = () => alive();
  for (const name of SIGNS) addEventListener(name, sign, { passive: true });
  let before = Date.now();
  const timer = setInterval(() => {
    const now = Date.now();
    // A device that slept practised nothing meanwhile.
    const passed = Math.min(now - before, 2 * TICK_MS);
    before = now;
    if (document.visibilityState === "visible" && now - lastSign < IDLE_SEC * 1000) counted += passed / 1000;
  }, TICK_MS);
  return () => {
    running = false;
    clearInterval(timer);
    for (const name of SIGNS) removeEventListener(name, sign);
  };
}

/** Something is played or recorded right now. */
export function alive(): void {
  lastSign = Date.now();
}

/** Whole seconds since they were last taken; they belong to what just ended. */
export function takeSeconds(): number {
  const seconds = Math.floor(counted);
  counted -= seconds;
  return Math.min(3600, seconds);
}
