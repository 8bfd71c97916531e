import type { SnagCause } from "../../core/score";

/** Why a place is a snag, in a few words. */
export function snagReason(snag: SnagCause): string {
  switch (snag.kind) {
    case "out-of-range":
      return `${snag.note} lies outside this stage's range`;
    case "low-register":
      return `low ${snag.note}: warm, slow air and every key closed`;
    case "accidental":
      return `${snag.note}, against the habit of the key`;
    case "break":
      return `${names(snag)} crosses the break${snag.fromThroat ? " from a throat note: have the right hand down before" : ""}`;
    case "many-fingers":
      return `${names(snag)} moves ${snag.fingers} fingers at once`;
    case "long-slide":
      return `${names(snag)}: ${snag.positions.map(ordinal).join(" to ")} position`;
    case "partial-leap":
      return `${names(snag)} leaps over ${skippedPartials(snag.skipped)}${snag.slurred ? ", slurred" : ""}: hear it first`;
    case "long-breath":
      return `${snag.seconds} s without a rest: ${
        snag.breaths === 0
          ? `longer than a breath of ${snag.breathSec} s, and all slurred`
          : `breathe ${snag.breaths === 1 ? "once" : `${snag.breaths} times`} on the way`
      }`;
    case "fast-tonguing":
      return `${snag.notes} quick notes on one pitch: light tongue, air that does not stop`;
  }
}

function names({ from, to }: { from: string; to: string }): string {
  return `${from} to ${to}`;
}

function skippedPartials(skipped: number): string {
  if (skipped === 0) return "close partials";
  return skipped === 1 ? "a partial" : `${skipped} partials`;
}

function ordinal(position: number): string {
  return ["1st", "2nd", "3rd", "4th", "5th", "6th", "7th"][position - 1]!;
}
