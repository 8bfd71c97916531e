/** A refusal from the server, or no connection at all (`offline`). The message is a sentence for the person. */
export class ApiError extends Error {
  constructor(
    message: string,
    readonly code: string,
    readonly fields: Record<string, string> = {},
  ) {
    super(message);
  }
  get offline(): boolean {
    return this.code === "offline";
  }
}

/** Bodies that a browser still sends while its page goes away are smaller than this. */
const LARGEST_LAST_BODY = 60_000;

/**
 * Calls an endpoint. JSON in, JSON out; bytes go as they are.
 * @param keepalive  the call goes through even if the page is left meanwhile, as long as its body is small
 * @throws ApiError
 */
export async function call<T>(
  method: "GET" | "POST" | "PUT" | "DELETE",
  path: string,
  body?: unknown,
  { keepalive = false } = {},
): Promise<T> {
  const raw = body instanceof Blob || body instanceof Uint8Array;
  const sent = raw ? (body as BodyInit) : body === undefined ? null : JSON.stringify(body);
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      credentials: "same-origin",
      headers: raw
        ? { "Content-Type": "application/octet-stream" }
        : body === undefined
          ? {}
          : { "Content-Type": "application/json" },
      body: sent,
      keepalive: keepalive && typeof sent === "string" && sent.length < LARGEST_LAST_BODY,
    });
  } catch {
    throw new ApiError(
      "There is no connection to the bench right now. What you did is kept here; try again in a moment.",
      "offline",
    );
  }
  const answer = (await response.json().catch(() => ({}))) as T & {
    error?: { code: string; message: string; fields?: Record<string, string> };
  };
  if (response.ok) return answer;
  if (response.status === 401 && !path.includes("/sign-in/"))
    location.assign(`/sign-in?again=1&next=${encodeURIComponent(location.pathname + location.search)}`);
  throw new ApiError(
    answer.error?.message ?? "The server gave no usable answer. Try again in a moment.",
    answer.error?.code ?? "failed",
    answer.error?.fields,
  );
}
