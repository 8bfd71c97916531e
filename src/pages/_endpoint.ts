import type { APIContext, APIRoute } from "astro";
import type { z } from "zod";
import { INSTRUMENTS, STAGES, type Stage } from "../core/music";
import { ENGRAVING_WIDTHS, type EngravingWidth } from "../server/engrave";
import { log } from "../server/log";
import { mediaStore } from "../server/media-store";
import { type Actor, ServiceError } from "../services/actor";
import { isId } from "./_id";

/** A request body of JSON is never larger than this. */
const LARGEST_JSON = 100_000;

export function answer(body: unknown, status = 200): Response {
  return new Response(JSON.stringify(body ?? {}), {
    status,
    headers: { "Content-Type": "application/json", "Cache-Control": "no-store" },
  });
}

/** The one shape of every refusal: {error: {code, message, fields?}}. */
export function errorAnswer(error: unknown): Response {
  if (error instanceof ServiceError) {
    return answer(
      {
        error: {
          code: error.code,
          message: error.message,
          ...(error.fields ? { fields: error.fields } : {}),
        },
      },
      error.status,
    );
  }
  const failure = error as Error & { original?: { errno?: number } };
  // A letter or number that the database has no place for is bad input, wherever it came in.
  if (UNSTORABLE.has(failure.original?.errno ?? 0))
    return errorAnswer(
      new ServiceError("bad-input", "Something typed here holds signs that cannot be stored. Type it again."),
    );
  // Statements and their values stay out of the log: they hold names.
  log().error(
    { reason: failure.name, errno: failure.original?.errno, at: placeOf(failure) },
    "a request failed",
  );
  return answer(
    {
      error: {
        code: "failed",
        message: "Something went wrong on the server; nothing was changed. Try again in a moment.",
      },
    },
    500,
  );
}

/** Illegal mix of collations, incorrect string value, data too long, out of range. */
const UNSTORABLE = new Set([1264, 1267, 1366, 1406]);

/** Where in our own code it happened, without the message. */
function placeOf({ stack }: Error): string[] {
  return (stack ?? "")
    .split("\n")
    .flatMap((line) => /^\s+at .*/.exec(line)?.[0].trim() ?? [])
    .slice(0, 4);
}

/** @throws ServiceError with the first problem as its sentence and all of them by field */
export function check<S extends z.ZodType>(schema: S, input: unknown): z.output<S> {
  const parsed = schema.safeParse(input);
  if (parsed.success) return parsed.data;
  // What the library says by itself is for programmers.
  const sentence = (message: string) =>
    /[.!]$/.test(message) ? message : "Something in this request cannot be used.";
  const fields = Object.fromEntries(
    parsed.error.issues.map((issue) => [issue.path.join("."), sentence(issue.message)]),
  );
  throw new ServiceError("bad-input", sentence(parsed.error.issues[0]?.message ?? ""), fields);
}

/** An endpoint that reads no body. */
export function read(run: (actor: Actor, context: APIContext) => Promise<unknown>): APIRoute {
  return async (context) => {
    try {
      const result = await run(context.locals.actor, context);
      return result instanceof Response ? result : answer(result);
    } catch (error) {
      return errorAnswer(error);
    }
  };
}

/**
 * An endpoint with a JSON body: parse, call a service, answer.
 * @param largest  bytes of the body at most
 */
export function endpoint<S extends z.ZodType>(
  schema: S,
  run: (actor: Actor, input: z.output<S>, context: APIContext) => Promise<unknown>,
  largest = LARGEST_JSON,
): APIRoute {
  return read(async (actor, context) =>
    run(actor, check(schema, await jsonBody(context.request, largest)), context),
  );
}

async function jsonBody(request: Request, largest: number): Promise<unknown> {
  const bytes = await bodyBytes(request, largest);
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    throw new ServiceError("bad-input", "The request is not JSON.");
  }
}

/** The body, read no further than the limit. @throws ServiceError when it is larger */
export async function bodyBytes(request: Request, limit: number): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  const tooLarge = () =>
    new ServiceError(
      "too-large",
      `This is more than the ${limit >= 1e6 ? `${Math.round(limit / 1e6)} MB` : `${limit / 1000} kB`} that can be sent at once.`,
    );
  if (Number(request.headers.get("content-length") ?? 0) > limit) throw tooLarge();
  if (!request.body) return new Uint8Array(0);
  const reader = request.body.getReader();
  for (let chunk = await reader.read(); !chunk.done; chunk = await reader.read()) {
    size += chunk.value.length;
    if (size > limit) throw tooLarge();
    chunks.push(chunk.value);
  }
  const whole = new Uint8Array(size);
  let at = 0;
  for (const chunk of chunks) {
    whole.set(chunk, at);
    at += chunk.length;
  }
  return whole;
}

/** A path parameter that must be a UUID; anything else does not exist. */
export function idParam(context: APIContext, name = "id"): string {
  const value = context.params[name];
  if (!isId(value)) throw new ServiceError("not-found", "There is nothing at this address.");
  return value;
}

/** A path parameter that must be an instrument; anything else does not exist. */
export function instrumentParam(context: APIContext, name = "instrument"): string {
  const value = context.params[name] ?? "";
  if (!INSTRUMENTS.some(({ id }) => id === value))
    throw new ServiceError("not-found", "There is no such instrument.");
  return value;
}

/** A short plain id in the address (a part, a build); anything else counts as none. */
export function plainParam(value: string | null | undefined): string | null {
  return value && /^[\w.-]{1,64}$/.test(value) ? value : null;
}

/** The engraving width asked for; medium when nothing usable is said. */
export function widthParam(url: URL): EngravingWidth {
  const width = url.searchParams.get("width");
  return ENGRAVING_WIDTHS.find((each) => each === width) ?? "medium";
}

/** The stage asked for; small tunes when nothing usable is said. */
export function stageParam(url: URL): Stage {
  return STAGES.find((stage) => stage === url.searchParams.get("stage")) ?? "small-tunes";
}

/** A file to take along. */
export function download(name: string, bytes: Uint8Array<ArrayBuffer>, type: string): Response {
  return new Response(bytes, {
    headers: {
      "Content-Type": type,
      "Content-Disposition": `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      "Cache-Control": "private, no-store",
    },
  });
}

/** A stored recording, whole or the range that was asked for; HEAD opens no file. */
export function sound(
  request: Request,
  { storeKey, contentType, bytes }: { storeKey: string; contentType: string; bytes: number },
): Response {
  const headers = {
    "Content-Type": contentType,
    "Accept-Ranges": "bytes",
    // Kept by the browser only as long as the page that plays it: the next child at this device hears nothing.
    "Cache-Control": "private, no-store",
    "Content-Disposition": "inline",
  };
  const body = (from: number, to: number) =>
    request.method === "HEAD" ? null : mediaStore().stream(storeKey, from, to);
  const range = /^bytes=(\d*)-(\d*)$/.exec(request.headers.get("range") ?? "");
  if (!range || (range[1] === "" && range[2] === "")) {
    return new Response(body(0, bytes - 1), {
      headers: { ...headers, "Content-Length": String(bytes) },
    });
  }
  const from = range[1] === "" ? Math.max(0, bytes - Number(range[2])) : Number(range[1]);
  const to = range[1] === "" || range[2] === "" ? bytes - 1 : Math.min(bytes - 1, Number(range[2]));
  if (from > to)
    return new Response(null, { status: 416, headers: { ...headers, "Content-Range": `bytes */${bytes}` } });
  return new Response(body(from, to), {
    status: 206,
    headers: {
      ...headers,
      "Content-Range": `bytes ${from}-${to}/${bytes}`,
      "Content-Length": String(to - from + 1),
    },
  });
}
