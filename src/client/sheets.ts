import { ApiError } from "./api";

/** Where sheets are kept on the device; taken away with the sign-in, since the next child at it has others. */
const STORE = "ulu-sheets";

const addressOf = (handoutId: string) => `/api/handouts/${handoutId}/file`;

/** Fetches sheets that are not on the device yet and drops those that are on the stand no more. Without network nothing changes. */
export async function keepSheets(handoutIds: readonly string[]): Promise<void> {
  if (typeof caches === "undefined") return;
  const store = await caches.open(STORE);
  const wanted = new Set(handoutIds.map(addressOf));
  for (const { url } of await store.keys()) {
    const path = new URL(url).pathname;
    if (!wanted.delete(path)) await store.delete(path);
  }
  for (const path of wanted) await store.add(path).catch(() => undefined);
}

/** Opens a sheet, from the device where it is kept. @throws ApiError where it is neither here nor to be had */
export async function openSheet(handoutId: string): Promise<void> {
  const path = addressOf(handoutId);
  const kept = typeof caches === "undefined" ? undefined : await (await caches.open(STORE)).match(path);
  const found = kept ?? (await fetch(path).catch(() => null));
  if (!found?.ok)
    throw new ApiError(
      "This sheet is not on this device yet, and there is no connection to fetch it.",
      "offline",
    );
  const address = URL.createObjectURL(await found.blob());
  window.open(address, "_blank", "noopener");
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
}

export async function forgetSheets(): Promise<void> {
  if (typeof caches !== "undefined") await caches.delete(STORE);
}
