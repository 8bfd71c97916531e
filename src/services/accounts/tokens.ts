import { createHash, randomInt } from "node:crypto";

/** What is kept of a token: nobody reads a way in from the database. */
export function hashToken(token: string): string {
  return createHash("sha256").update(token).digest("hex");
}

/** Letters and digits that nobody takes for one another. */
const CLEAR = "ABCDEFGHJKMNPQRSTUVWXYZ23456789";

/** A code to write down: groups of four, 5 bits a letter. */
export function drawCode(groups: number): string {
  return Array.from({ length: groups }, () =>
    Array.from({ length: 4 }, () => CLEAR[randomInt(CLEAR.length)]).join(""),
  ).join("-");
}

/** A code as it is compared, however it is typed. */
export function codeKey(code: string): string {
  return code.toUpperCase().replace(/[^A-Z0-9]/g, "");
}
