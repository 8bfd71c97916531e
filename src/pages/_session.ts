import type { AstroCookies } from "astro";
import { config } from "../server/config";
import type { NewSession } from "../services/accounts";

export const SESSION_COOKIE = "ulu_session";

export function keepSession(cookies: AstroCookies, session: NewSession): void {
  cookies.set(SESSION_COOKIE, session.token, {
    httpOnly: true,
    sameSite: "lax",
    path: "/",
    expires: session.expiresAt,
    secure: config().publicUrl?.protocol === "https:",
  });
}

export function dropSession(cookies: AstroCookies): void {
  cookies.delete(SESSION_COOKIE, { path: "/" });
}
