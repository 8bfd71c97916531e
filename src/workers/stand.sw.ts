import { clientsClaim } from "workbox-core";
import { ExpirationPlugin } from "workbox-expiration";
import { cleanupOutdatedCaches, precacheAndRoute } from "workbox-precaching";
import { registerRoute } from "workbox-routing";
import { CacheFirst, NetworkFirst } from "workbox-strategies";

declare const self: ServiceWorkerGlobalScope & {
  /** Files of the stand with their hashes, written in by the build. */
  __WB_MANIFEST: { url: string; revision: string | null }[];
  addEventListener(
    type: "message",
    listener: (event: MessageEvent & { waitUntil(done: Promise<unknown>): void }) => void,
  ): void;
};

/** The network is waited for so long before what is kept is shown, seconds. */
const PATIENCE_SEC = 4;
const STAND_CACHE = "ulu-stand";
const expiration = new ExpirationPlugin({ maxEntries: 60 });
/** So many players were said to have left. What one of them asked for is not kept when it comes after that. */
let left = 0;

clientsClaim();
cleanupOutdatedCaches();
// Code and letters of the stand carry a hash in their names: what is kept is right as long as it is asked for.
precacheAndRoute(self.__WB_MANIFEST);

// Sounds never change under their names; a class would fetch them again every day.
registerRoute(
  ({ url }) => url.pathname.startsWith("/sounds/"),
  new CacheFirst({ cacheName: "ulu-sounds", plugins: [new ExpirationPlugin({ maxEntries: 60 })] }),
);

// The stand and its lines: new where there is a network, as they were last where there is none. One page, whatever is open in it.
const stand = new NetworkFirst({
  cacheName: STAND_CACHE,
  networkTimeoutSeconds: PATIENCE_SEC,
  plugins: [
    expiration,
    {
      handlerWillStart: async ({ state }) => {
        if (state) state.left = left;
      },
      cacheKeyWillBeUsed: async ({ request }) => {
        const url = new URL(request.url);
        return isPage(url) ? url.origin + url.pathname : request;
      },
      // Only what was answered to this player: no way to the sign-in, no refusal, nothing that comes after it has left.
      cacheWillUpdate: async ({ response, state }) =>
        state?.left === left && response.status === 200 && !response.redirected ? response : null,
    },
  ],
});
registerRoute(
  ({ url }) =>
    isPage(url) ||
    url.pathname === "/api/stand" ||
    url.pathname === "/api/practice" ||
    /^\/api\/tasks\/[^/]+$/.test(url.pathname) ||
    /^\/api\/room\/[^/]+\/notes$/.test(url.pathname),
  stand,
);

// A player leaves: the answers kept go, and so does the list of their addresses.
self.addEventListener("message", (event) => {
  if (event.data !== "player left") return;
  left++;
  event.waitUntil(Promise.all([caches.delete(STAND_CACHE), expiration.deleteCacheAndMetadata()]));
});

/** The stand, and a lesson that is done at home. */
function isPage({ pathname }: URL): boolean {
  return pathname === "/stand" || /^\/stand\/lesson\/[^/]+$/.test(pathname);
}
