import type { APIRoute } from "astro";
import { log } from "../../../server/log";
import { canPrint, printPage } from "../../../server/paper";
import { LineFull } from "../../../server/turns";
import { director, ServiceError } from "../../../services/actor";
import type { PaperStep } from "../../../services/week/wire";
import { read } from "../../_endpoint";
import { SESSION_COOKIE } from "../../_session";
import { askedWeek } from "../../week/_asked";

/**
 * The home pages or family pages of a week as one PDF, made here: a line of JSON for every few sheets that are ready, the last
 * one with the file. Whoever leaves in between ends the work.
 */
export const GET: APIRoute = read(async (actor, { url, cookies, request }) => {
  director(actor);
  if (!canPrint())
    throw new ServiceError("conflict", "This server cannot make PDFs; print from your browser, which can.");
  const { of, groupId } = askedWeek(url);
  const form = url.searchParams.get("form") === "family" ? "family" : "home";
  const path = `/week/print/${form}?${new URLSearchParams({ ...(of && { of }), ...(groupId && { group: groupId }) })}`;
  const value = cookies.get(SESSION_COOKIE)?.value ?? "";
  const gone = new AbortController();
  request.signal.addEventListener("abort", () => gone.abort());
  const lines = new ReadableStream<Uint8Array>({
    async start(to) {
      const say = (step: PaperStep) => {
        if (!gone.signal.aborted) to.enqueue(new TextEncoder().encode(`${JSON.stringify(step)}\n`));
      };
      try {
        const pdf = await printPage(
          path,
          { name: SESSION_COOKIE, value },
          (sheets) => say({ sheets }),
          gone.signal,
        );
        say({ pdf: pdf.toString("base64") });
        to.close();
      } catch (error) {
        if (gone.signal.aborted) return;
        if (!(error instanceof LineFull))
          log().error({ reason: (error as Error).message }, "a set was not printed");
        say({
          problem:
            error instanceof LineFull
              ? "Several sets are being printed already. Try again in a minute."
              : "The PDF could not be made. Print from your browser, which can make one too.",
        });
        to.close();
      }
    },
    cancel: () => gone.abort(),
  });
  return new Response(lines, {
    headers: { "Content-Type": "application/x-ndjson; charset=utf-8", "Cache-Control": "private, no-store" },
  });
});
