import type { AstroGlobal } from "astro";
import { type Actor, type Director, type PlayerActor, ServiceError, type StandIn } from "../services/actor";
import { isId } from "./_id";

/** The director who asks for a page, or the redirect that others get. */
export function directorPage(astro: AstroGlobal): Director | Response {
  const { actor } = astro.locals as { actor: Actor };
  return actor.kind === "director"
    ? actor
    : astro.redirect(actor.kind === "player" ? "/stand" : signIn(astro));
}

/** Who leads lessons: the director, or who stands in. */
export function leaderPage(astro: AstroGlobal): Director | StandIn | Response {
  const { actor } = astro.locals as { actor: Actor };
  return actor.kind === "stand-in" ? actor : directorPage(astro);
}

export function playerPage(astro: AstroGlobal): PlayerActor | Response {
  const { actor } = astro.locals as { actor: Actor };
  return actor.kind === "player"
    ? actor
    : astro.redirect(actor.kind === "director" ? "/week" : signIn(astro));
}

/** Sign-in, and from there back to where the person was going. */
function signIn({ url }: AstroGlobal): string {
  return `/sign-in?next=${encodeURIComponent(url.pathname + url.search)}`;
}

/** A path of this application that somebody may be led to; nothing for any other address. */
export function localPath(path: string | null): string {
  return path && /^\/[a-z]/.test(path) && path.length < 300 && !/[\\\s]/.test(path) ? path : "";
}

/** An id in a page's address; what is none leads to nothing. */
export function pageId(astro: AstroGlobal, name: string): string {
  const value = astro.params[name];
  return isId(value) ? value : "00000000-0000-0000-0000-000000000000";
}

/**
 * What a page shows, or a page that says what was not found.
 * @param elsewhere  where such things are listed
 */
export async function pageOr<T>(
  astro: AstroGlobal,
  elsewhere: string,
  found: Promise<T>,
): Promise<T | Response> {
  try {
    return await found;
  } catch (error) {
    if (!(error instanceof ServiceError)) throw error;
    astro.locals.notFound = { message: error.message, elsewhere };
    return astro.rewrite("/404");
  }
}
