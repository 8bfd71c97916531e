import { defineMiddleware } from "astro:middleware";
import { errorAnswer } from "./pages/_endpoint";
import { ROOM_COOKIE, SESSION_COOKIE } from "./pages/_session";
import { config } from "./server/config";
import { database } from "./server/database";
import { log } from "./server/log";
import { actorOf } from "./services/accounts";
import { ServiceError } from "./services/actor";
import { roomActorOf } from "./services/room";

database();

const SAFE_METHODS = new Set(["GET", "HEAD", "OPTIONS"]);

export const onRequest = defineMiddleware(async (context, next) => {
  const { request, url } = context;
  if (!SAFE_METHODS.has(request.method) && !comesFromOwnPage(request)) {
    return errorAnswer(
      new ServiceError("not-allowed", "This request did not come from a page of Ulu Bench."),
    );
  }
  const asset = url.pathname.startsWith("/_astro/") || url.pathname.startsWith("/favicon");
  // The page that says that something failed needs nobody and no database.
  const sorry = context.routePattern === "/500";
  context.locals.actor = { kind: "nobody" };
  const started = performance.now();
  let response: Response;
  try {
    if (!asset && !sorry) context.locals.actor = await actorOf(context.cookies.get(SESSION_COOKIE)?.value);
    // Who is not signed in may hold leave for a lesson: a phone that joined it, or somebody who stands in.
    const leave = context.cookies.get(ROOM_COOKIE)?.value;
    if (leave && context.locals.actor.kind === "nobody")
      context.locals.actor = (await roomActorOf(leave)) ?? { kind: "nobody" };
    response = await next();
  } catch (error) {
    // Said and noted here, without the statement that failed; for a page the framework then shows the one above.
    const said = errorAnswer(error);
    return url.pathname.startsWith("/api/") ? said : new Response(null, { status: 500 });
  }
  const headers = new Headers(response.headers);
  headers.set("X-Content-Type-Options", "nosniff");
  headers.set("Referrer-Policy", "same-origin");
  headers.set("Permissions-Policy", "microphone=(self), camera=(), geolocation=()");
  if (!asset) {
    const ms = performance.now() - started;
    headers.set("Server-Timing", `total;dur=${ms.toFixed(1)}`);
    if (!headers.has("Cache-Control")) headers.set("Cache-Control", "no-store");
    log().debug(
      { method: request.method, path: url.pathname, status: response.status, ms: Math.round(ms) },
      "answered",
    );
  }
  const policy = headers.get("Content-Security-Policy");
  // Engraved parts bring a style element and style attributes; scripts stay limited to hashes and own files.
  if (policy)
    headers.set(
      "Content-Security-Policy",
      policy.replace(/style-src[^;]*/, "style-src 'self' 'unsafe-inline'"),
    );
  const { status, statusText } = response;
  const whole = headers.get("Content-Type")?.startsWith("text/html") && !url.pathname.includes("/print/");
  // A page is one write; only printed sets are long enough to be worth sending piece by piece.
  return new Response(whole ? await response.text() : response.body, { status, statusText, headers });
});

/** A state-changing request must carry the origin of a page this server itself serves. */
function comesFromOwnPage(request: Request): boolean {
  const origin = request.headers.get("origin");
  if (!origin || !URL.canParse(origin)) return false;
  const { host, hostname } = new URL(origin);
  const publicUrl = config().publicUrl;
  if (publicUrl && new URL(origin).origin === publicUrl.origin) return true;
  return host === request.headers.get("host") && ["127.0.0.1", "localhost", "[::1]"].includes(hostname);
}
