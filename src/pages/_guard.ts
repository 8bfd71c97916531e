import type { AstroGlobal } from "astro";
import { type Actor, type Director, type PlayerActor, ServiceError } from "../services/actor";
import { isId } from "./_id";

/** The director who asks for a page, or the redirect that others get. */
export function directorPage(astro: AstroGlobal): Director | Response {
  const { actor } = astro.locals as { actor: Actor };
  return actor.kind === "director" ? actor : astro.redirect(actor.kind === "player" ? "/stand" : "/sign-in");
}

export function playerPage(astro: AstroGlobal): PlayerActor | Response {
  const { actor } = astro.locals as { actor: Actor };
  return actor.kind === "player" ? actor : astro.redirect(actor.kind === "director" ? "/week" : "/sign-in");
}

/** An id in a page's address; what is none leads to nothing. */
export function pageId(astro: AstroGlobal, name: string): string {
  const value = astro.params[name];
  return isId(value) ? value : "00000000-0000-0000-0000-000000000000";
}

/** What a page shows, or where it leads when there is no such thing for this person. */
export async function pageOr<T>(
  astro: AstroGlobal,
  elsewhere: string,
  found: Promise<T>,
): Promise<T | Response> {
  try {
    return await found;
  } catch (error) {
    if (error instanceof ServiceError) return astro.redirect(elsewhere);
    throw error;
  }
}
