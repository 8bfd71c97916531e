import { soundsFor } from "../core/playalong";
import type { StandView, TaskDetail } from "../services/practice/wire";
import { forgetSent } from "./practice-log";
import { forgetSheets } from "./sheets";

/** What the service worker keeps of a player: the stand and its lines. Its name is known to `workers/stand.sw.ts`. */
const STAND_CACHE = "ulu-stand";
/** Whose stand it is. */
const OWNER = "ulu-stand-of";

/**
 * Lets the stand open without network from now on, where the browser can. What another child left of its stand goes first.
 * @returns whether things are kept now
 */
export async function startOffline(playerId: string): Promise<boolean> {
  if (typeof navigator === "undefined" || !("serviceWorker" in navigator) || !isSecureContext) return false;
  try {
    if (localStorage.getItem(OWNER) !== playerId) {
      await caches.delete(STAND_CACHE);
      localStorage.setItem(OWNER, playerId);
    }
    await navigator.serviceWorker.register("/sw.js", { scope: "/stand" });
    await navigator.serviceWorker.ready;
    return true;
  } catch {
    // A private window keeps nothing: the stand works as long as there is a network.
    return false;
  }
}

/** The player has gone: what still comes in for the stand is not wanted any more. */
let gone = false;

/** Fetches what is to do, so that the service worker keeps it: the page itself, lessons for home, open lines, their sounds, cards and tools. */
export async function keepForOffline(view: StandView, width: string): Promise<void> {
  if (!navigator.serviceWorker.controller) await controlled();
  const open = view.tasks.filter(({ opensLabel, state }) => opensLabel === null && state !== "accepted");
  const kept = (path: string) => fetch(path).catch(() => undefined);
  await Promise.all([kept("/stand"), kept("/api/stand"), kept("/api/practice")]);
  for (const { id } of view.lessons) await kept(`/stand/lesson/${id}`);
  const instruments = new Set<string>();
  for (const { id } of open.slice(0, MOST_KEPT)) {
    if (gone) return;
    // Not by `call`: what happens behind the page leads nobody to the sign-in.
    const answer = await kept(`/api/tasks/${id}?width=${width}`);
    if (answer?.ok) instruments.add(((await answer.json()) as TaskDetail).instrumentId);
  }
  if (gone) return;
  await kept("/sounds/sounds.json");
  for (const sound of soundsFor([...instruments])) await kept(`/sounds/${sound}.flac`);
}

/** So many open lines are kept at most. */
const MOST_KEPT = 20;

function controlled(): Promise<void> {
  return new Promise((done) => {
    navigator.serviceWorker.addEventListener("controllerchange", () => done(), { once: true });
    setTimeout(done, 5000);
  });
}

/** The service worker is told as well: what it is still fetching must not be kept when it comes. */
async function forgetStand(): Promise<void> {
  if (typeof caches === "undefined") return;
  await caches.delete(STAND_CACHE);
  const worker = await navigator.serviceWorker?.getRegistration("/stand");
  worker?.active?.postMessage("player left");
}

/**
 * Takes everything of a player off this device but what the bench does not have yet: unsent takes and what was practised.
 * Said when somebody leaves, and once more by the page that asks who is there: an answer that was on its way may have come
 * in between.
 */
export async function forgetPlayer(): Promise<void> {
  gone = true;
  await Promise.allSettled([forgetStand(), forgetSheets(), forgetSent()]);
  try {
    localStorage.removeItem(OWNER);
  } catch {
    // Nothing was kept.
  }
}
