import type { AstroGlobal } from "astro";
import type { Actor, Director, PlayerActor } from "../services/actor";

/** The director who asks for a page, or the redirect that others get. */
export function directorPage(astro: AstroGlobal): Director | Response {
  const { actor } = astro.locals as { actor: Actor };
  return actor.kind === "director" ? actor : astro.redirect(actor.kind === "player" ? "/stand" : "/sign-in");
}

export function playerPage(astro: AstroGlobal): PlayerActor | Response {
  const { actor } = astro.locals as { actor: Actor };
  return actor.kind === "player" ? actor : astro.redirect(actor.kind === "director" ? "/week" : "/sign-in");
}
