import type { AstroCookies } from "astro";
import { config } from "../server/config";
import type { NewSession } from "../services/accounts";
import type { Leave } from "../services/room";

export const SESSION_COOKIE = "ulu_session";
/** By this a device is known again, so that strangers who guess cannot lock it out. It opens nothing by itself. */
const DEVICE_COOKIE = "ulu_device";
const DEVICE_SEC = 400 * 24 * 3600;

function shared() {
  return {
    httpOnly: true,
    sameSite: "lax",
    path: "/",
    secure: config().publicUrl?.protocol === "https:",
  } as const;
}

/** Leave for a lesson: of a phone that joined it, or of somebody who stands in. */
export const ROOM_COOKIE = "ulu_room";

export function keepLeave(cookies: AstroCookies, leave: Leave): void {
  cookies.set(ROOM_COOKIE, leave.token, { ...shared(), expires: leave.expiresAt });
}

export function keepSession(cookies: AstroCookies, session: NewSession): void {
  cookies.set(SESSION_COOKIE, session.token, { ...shared(), expires: session.expiresAt });
  cookies.set(DEVICE_COOKIE, session.device, { ...shared(), maxAge: DEVICE_SEC });
}

export function deviceOf(cookies: AstroCookies): string | undefined {
  const device = cookies.get(DEVICE_COOKIE)?.value;
  return device && /^[\w-]{43}$/.test(device) ? device : undefined;
}

/** Where this application is found by others: as it is configured, else as it was asked for. */
export function addressOf(request: Request): string {
  return config().publicUrl?.origin ?? `http://${request.headers.get("host") ?? "localhost"}`;
}

export function dropSession(cookies: AstroCookies): void {
  cookies.delete(SESSION_COOKIE, { path: "/" });
}
