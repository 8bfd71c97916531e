import { pitchName } from "../../core/music";
import type { Fault, SectionFault } from "../../core/playalong";
import type { Cause } from "../../core/progress";
import type { Score } from "../../core/score";
import { heardName } from "./takes";

/** What is wrong with one of two renderings of a line. */
export const FAULT_NAMES: Record<Fault, string> = {
  "key-ignored": "the key signature is ignored",
  "rushed-slur": "slurs and eighths are rushed",
  "wavering-tone": "long notes waver",
  "swelling-tone": "long notes swell and fade",
  "changing-tone": "the tone grows dull while it is held",
  "clipped-notes": "notes are cut short",
  "re-tongued-slur": "slurs are tongued anew",
  "slur-as-tie": "a slur is held like a tie",
  "pushed-release": "long notes end with a push",
};

/** What a section often does, as one of two renderings shows it. */
export function sectionFaultName(fault: SectionFault, { written, playedMidi }: Cause, score: Score): string {
  const name = written ? pitchName(written, false) : "a note";
  switch (fault.kind) {
    case "played-as":
      return `${name} is played as ${heardName(playedMidi!, score)}`;
    case "left-out":
      return written ? `${name} is left out` : "a note is left out";
    default:
      return FAULT_NAMES[fault.kind];
  }
}
