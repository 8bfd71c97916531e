import type { Stage } from "../music";
import { type Block, usualBlock } from "./block";
import type { Routine } from "./routine";

/** Starting points for each stage, ten minutes at most. From memory of common beginner practice. */
export const TEMPLATES: { stage: Stage; name: string; why: string; routine: Routine }[] = [
  {
    stage: "making-a-sound",
    name: "Making a sound",
    why: "Air first, then the first piece of each instrument. Nothing is assigned home in these weeks.",
    routine: routine("Making a sound", 300, [
      usualBlock("breathing", "b1", { bpm: 60 }),
      usualBlock("first-sounds", "b2", { bpm: 60, title: "Steady sounds" }),
      usualBlock("first-sounds", "b3", { sound: "short", bpm: 60, title: "Short sounds" }),
      usualBlock("first-sounds", "b4", {
        sound: "siren",
        countsOn: 8,
        countsOff: 8,
        bpm: 72,
        title: "Sirens",
      }),
    ]),
  },
  {
    stage: "five-notes",
    name: "Five notes",
    why: "Long tones down the five notes, one scale, tongue and slur.",
    routine: routine("Five notes", 600, [
      usualBlock("breathing", "b1", { bpm: 60 }),
      usualBlock("long-tones", "b2", { bpm: 66 }),
      usualBlock("articulation", "b3", { signs: ["plain", "staccato"], rounds: 2, bpm: 72 }),
      usualBlock("tonguing", "b4", { values: ["half", "quarter"], rounds: 2, bpm: 72 }),
      usualBlock("scales", "b5", {
        pattern: "five-note",
        rhythm: "half",
        tonguing: "tongued-then-slurred",
        repeats: 2,
        bpm: 80,
        title: "Five-note scale",
      }),
      usualBlock("scales", "b6", {
        pattern: "1-5-1",
        repeats: 4,
        tonguing: "slurred",
        bpm: 72,
        title: "1-5-1",
      }),
      usualBlock("chorale", "b7", { voices: "unison", rounds: 2, bpm: 72 }),
    ]),
  },
  {
    stage: "small-tunes",
    name: "Small tunes",
    why: "Longer tones, slurs in each family's own way, B♭ and E♭ scales.",
    routine: routine("Small tunes", 600, [
      usualBlock("breathing", "b1", { bpm: 60 }),
      usualBlock("long-tones", "b2", { bpm: 66 }),
      usualBlock("slurs", "b3", { steps: 4, bpm: 80 }),
      usualBlock("chromatic-descent", "b4", { steps: 7, bpm: 80 }),
      usualBlock("tonguing", "b5", { rounds: 1, bpm: 72 }),
      usualBlock("scales", "b6", { keys: [-2, -3], tonguing: "tongued-then-slurred", repeats: 2, bpm: 88 }),
      usualBlock("chorale", "b7", { rounds: 2, bpm: 72 }),
    ]),
  },
  {
    stage: "widening",
    name: "Widening",
    why: "Lip slurs further down, four keys on a tempo ladder, half-step cycle, chorale in harmony.",
    routine: routine("Widening", 600, [
      usualBlock("breathing", "b1", { bpm: 60 }),
      usualBlock("long-tones", "b2", { degrees: [5, 1], countsOn: 12, countsOff: 12, bpm: 72 }),
      usualBlock("slurs", "b3", { steps: 5, bpm: 88 }),
      usualBlock("half-step-cycle", "b4", { steps: 8, bpm: 72 }),
      onLadder(usualBlock("scales", "b5", { keys: [-2, -3, -1, -4] }), [80, 110]),
      usualBlock("scales", "b6", { keys: [-2], pattern: "thirds", bpm: 66, title: "In thirds, slower" }),
      usualBlock("chromatic-scale", "b7", { tonguing: "tongued-then-slurred", bpm: 88 }),
      usualBlock("chorale", "b8", { rounds: 2, bpm: 72 }),
    ]),
  },
];

function routine(title: string, budgetSec: number, blocks: Block[]): Routine {
  return { title, blocks, changeoverSec: 10, budgetSec, pieceBpm: 80 };
}

function onLadder(block: Block, bpms: number[]): Block {
  return { ...block, tempo: { kind: "ladder", bpms } };
}
