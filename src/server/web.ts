import { AsyncLocalStorage } from "node:async_hooks";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";

/** The built site's request handler, pages and static files alike. */
type Handler = (request: IncomingMessage, response: ServerResponse) => void;

const METHODS = new Set(["GET", "HEAD", "POST", "PUT", "DELETE", "OPTIONS"]);
/** A chunk of a megabyte over a bad line takes a while; a request that takes longer than this is not coming. */
const LONGEST_REQUEST_MS = 120_000;
const LONGEST_HEADERS_MS = 20_000;
/** An idle connection stays open longer than any proxy before us keeps it: neither closes it just as the other uses it. */
const IDLE_MS = 75_000;
/** Requests under way may end for so long when the server is asked to stop. */
const LAST_WORDS_MS = 3_000;

/** Serves the built site: refuses what no page of ours sends before anything else sees it, and stops when asked. */
async function serve(): Promise<void> {
  process.env.ASTRO_NODE_AUTOSTART = "disabled";
  // Otherwise React renders with its checks for developers, at half the speed.
  process.env.NODE_ENV ??= "production";
  doWithoutAsyncContext();
  const site = new URL("./site/server/entry.mjs", import.meta.url).href;
  const { handler } = (await import(site)) as { handler: Handler };
  const server = createServer((request, response) => {
    const refusal = refusalOf(request);
    if (!refusal) return handler(request, response);
    response.writeHead(refusal.status, { "Content-Type": "text/plain; charset=utf-8", Connection: "close" });
    response.end(`${refusal.sentence}\n`);
  });
  server.requestTimeout = LONGEST_REQUEST_MS;
  server.headersTimeout = LONGEST_HEADERS_MS;
  server.keepAliveTimeout = IDLE_MS;
  server.on("error", (error: NodeJS.ErrnoException) => {
    console.error(`The server cannot listen on ${address()} (${error.code ?? error.message}).`);
    process.exit(1);
  });
  const stop = () => {
    server.close(() => process.exit(0));
    server.closeIdleConnections();
    setTimeout(() => {
      server.closeAllConnections();
      process.exit(0);
    }, LAST_WORDS_MS).unref();
  };
  process.once("SIGTERM", stop);
  process.once("SIGINT", stop);
  server.listen(Number(process.env.PORT ?? 4321), process.env.HOST ?? "127.0.0.1");
}

/**
 * The site's adapter keeps the address of every request in an async context, to print it beside an unhandled rejection.
 * Addresses do not belong in the log, and on Node 20 a context slows every promise of the process: pages take about a third
 * longer. Nothing else here uses one.
 */
function doWithoutAsyncContext(): void {
  AsyncLocalStorage.prototype.run = (
    _store: unknown,
    run: (...args: unknown[]) => unknown,
    ...args: unknown[]
  ) => run(...args) as never;
}

function address(): string {
  return `${process.env.HOST ?? "127.0.0.1"}:${process.env.PORT ?? 4321}`;
}

function refusalOf({ method, url }: IncomingMessage): { status: number; sentence: string } | null {
  if (!METHODS.has(method ?? "")) return { status: 405, sentence: "This server does not know that method." };
  try {
    decodeURI(url ?? "");
  } catch {
    return { status: 400, sentence: "This address cannot be read." };
  }
  // An address of another host, or none at all, would be taken apart wrongly further in.
  if (!url?.startsWith("/") || url.startsWith("//") || !URL.canParse(url, "http://localhost"))
    return { status: 400, sentence: "This address cannot be read." };
  return null;
}

void serve();
