import type { DifferingBar, Differs } from "../../core/practice";

const DIFFERS: Record<Differs, string> = {
  "left-out": "one of you left a note out",
  pitch: "you played different notes",
  time: "one of you came earlier",
  length: "one of you held longer",
};

/** What differs in a bar, the gravest thing only. */
export function differsText({ kinds }: DifferingBar, number: string): string {
  return `${number === "0" ? "In the pickup" : `In bar ${number}`} ${DIFFERS[kinds[0]!]}.`;
}
