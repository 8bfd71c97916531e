import type { StripKind } from "../plan";
import type { RoomWay } from "./plan";

/** One thing a class does by itself, led by somebody who need not read music. */
export interface AloneStep {
  kind: "words" | "look" | "clap" | "say" | "hear" | "slow" | "play" | "section" | "again" | "done";
  /** What the wall does when its button is pressed; nothing for what is only said. */
  act: null | { way: RoomWay; share: number; reference: boolean };
  /** The instruments that play, for "section". */
  instruments?: string[];
}

/** Slow enough to think (common practice, no published source). */
const SLOW = 0.7;

/**
 * The steps of a block that runs without a director, in the trade's order: look, clap and count, say and finger, hear, slowly, each
 * section alone while the others finger along, all in tempo. Every step waits until somebody goes on.
 * @param hasNotes  there is something to play on the wall
 * @param sections  the instruments of each section in the room
 */
export function aloneSteps(kind: StripKind, hasNotes: boolean, sections: readonly string[][]): AloneStep[] {
  const said: AloneStep = { kind: "words", act: null };
  if (!hasNotes) return [said, { kind: "done", act: null }];
  const play = (share: number): AloneStep["act"] => ({ way: "play", share, reference: true });
  if (kind === "routine")
    return [
      said,
      { kind: "hear", act: play(1) },
      { kind: "play", act: play(1) },
      { kind: "done", act: null },
    ];
  if (kind === "counting")
    return [
      said,
      { kind: "clap", act: { way: "clap", share: SLOW, reference: false } },
      { kind: "clap", act: { way: "clap", share: 1, reference: false } },
      { kind: "done", act: null },
    ];
  return [
    said,
    { kind: "look", act: null },
    { kind: "clap", act: { way: "clap", share: SLOW, reference: false } },
    { kind: "say", act: { way: "say", share: SLOW, reference: false } },
    { kind: "hear", act: play(1) },
    { kind: "slow", act: play(SLOW) },
    ...(sections.length > 1
      ? sections.map((instruments): AloneStep => ({ kind: "section", act: play(SLOW), instruments }))
      : []),
    { kind: "play", act: play(1) },
    { kind: "again", act: play(1) },
    { kind: "done", act: null },
  ];
}
