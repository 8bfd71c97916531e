import type { PracticeStep, Terms } from "../../core/practice";
import type { Style } from "../../core/score";

/** A step as a director chooses it. */
export const STEP_NAMES: Record<PracticeStep, string> = {
  listen: "listen",
  ear: "hear the difference",
  look: "look",
  count: "count and clap",
  sing: "sing",
  finger: "say and finger",
  "one-note": "on one note",
  tongue: "tongue it all, then slur",
  slow: "slow",
  snags: "the snags",
  whole: "whole",
  ladder: "tempo ladder",
  accompaniment: "with accompaniment",
  record: "record",
  perform: "play it for somebody",
};

export const HELD_NAMES: Record<Style, string> = {
  short: "short",
  smooth: "smooth, no gaps",
  tapered: "ends held and tapered",
};

/** What of the terms differs from the usual, in a few words for a list. */
export function termsInShort({
  lowestBpm,
  withoutRepeats,
  ladder,
  styles,
  record,
  minutes,
  test,
  extra,
}: Terms): string {
  return [
    test && "test",
    extra && "extra",
    lowestBpm !== null && `from ${lowestBpm} bpm on`,
    withoutRepeats && "without repeats",
    ladder && `ladder from ${ladder.fromBpm}`,
    styles.length > 0 && [...new Set(styles.map(({ style }) => HELD_NAMES[style]))].join(", "),
    record.kind === "nothing" && "nothing recorded",
    record.kind === "bars" && "some bars recorded",
    minutes !== null && `${minutes} minutes`,
  ]
    .filter(Boolean)
    .join(", ");
}

/** Ways to work with a bar of rhythm. */
export const COUNTING_NAMES = {
  read: "read and clap",
  echo: "echo",
  dictation: "dictation",
  fill: "fill the bar",
  mistake: "find the mistake",
  start: "find the starting beat",
} as const;
