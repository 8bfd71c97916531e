import { existsSync } from "node:fs";
import { chromium } from "playwright-core";
import { config } from "./config";
import { inTurns } from "./turns";

/** A page that takes longer than this is given up. */
const LONGEST_MS = 120_000;
const LOOK_MS = 1_000;
/** One at a time: a browser with a whole band's sheets takes half a gigabyte. */
const oneAtATime = inTurns(1, [3]);

/** Whether this machine has a browser that prints. */
export const canPrint = (): boolean => existsSync(config().chromium);

/**
 * Prints one of this server's own pages as PDF, in a browser without a window that sees what the signed-in person would see.
 *
 * @param path  address of the page from the root
 * @param cookie  the session the page is asked for with
 * @param told  hears how many sheets have arrived
 * @param gone  ends the work: nobody waits for it any more
 * @throws LineFull when several are waiting already, Error when the browser fails
 */
export function printPage(
  path: string,
  cookie: { name: string; value: string },
  told: (sheets: number) => void,
  gone: AbortSignal,
): Promise<Buffer> {
  return oneAtATime(async () => {
    gone.throwIfAborted();
    const browser = await chromium.launch({
      executablePath: config().chromium,
      // Chromium's own sandbox cannot be had by root; the page is ours, and nobody else's words in it are markup.
      chromiumSandbox: process.getuid?.() !== 0,
      args: ["--disable-background-networking", "--disable-component-update"],
      timeout: LONGEST_MS,
    });
    const end = () => void browser.close();
    gone.addEventListener("abort", end);
    try {
      // What is printed needs no scripts of its own.
      const context = await browser.newContext({ javaScriptEnabled: false });
      await context.addCookies([{ ...cookie, url: config().ownAddress }]);
      const page = await context.newPage();
      page.setDefaultTimeout(LONGEST_MS);
      // Laid out once, for paper, and not for a screen before.
      await page.emulateMedia({ media: "print" });
      const looking = setInterval(async () => {
        const sheets = await page
          .locator("[data-sheet]")
          .count()
          .catch(() => null);
        if (sheets !== null) told(sheets);
      }, LOOK_MS);
      try {
        const response = await page.goto(config().ownAddress + path, { waitUntil: "load" });
        if (!response?.ok()) throw new Error(`The page to print answered ${response?.status()}`);
      } finally {
        clearInterval(looking);
      }
      return await page.pdf({ preferCSSPageSize: true });
    } finally {
      gone.removeEventListener("abort", end);
      await browser.close();
    }
  });
}
