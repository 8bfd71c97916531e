import { type Fingering, type Pitch, pitchToMidi } from "../music";
import type { Measure, Part, Score, ScoreEvent } from "../score";

/** What the hands do between two notes. */
export interface FingerMoves {
  /** Fingers or valves that stay down, go down, come up: 1 to 6 on woodwinds (left hand first), 1 to 4 on valves. */
  stay: number[];
  down: number[];
  up: number[];
  thumb: "stays" | "down" | "up" | null;
  /** Register or octave key. */
  register: "stays" | "down" | "up" | null;
  /** Keys beside the six holes. */
  keysDown: string[];
  keysUp: string[];
  /** Slide positions. */
  slide: [from: number, to: number] | null;
  /** Partials of one tube: the lips and the air change, + is higher. */
  partials: number;
}

/**
 * What moves between two fingerings of one instrument.
 * @returns null where they are of different kinds
 * @example
 * fingerMoves(
 *   { kind: "slide", position: 1, partial: 4, cents: 0 },
 *   { kind: "slide", position: 6, partial: 4, cents: 0 },
 * ).slide // => [1, 6]
 */
export function fingerMoves(from: Fingering, to: Fingering): FingerMoves | null {
  const none: FingerMoves = {
    stay: [],
    down: [],
    up: [],
    thumb: null,
    register: null,
    keysDown: [],
    keysUp: [],
    slide: null,
    partials: 0,
  };
  const moved = (before: ReadonlySet<number>, after: ReadonlySet<number>) => ({
    stay: [...before].filter((each) => after.has(each)),
    down: [...after].filter((each) => !before.has(each)),
    up: [...before].filter((each) => !after.has(each)),
  });
  const change = (before: boolean, after: boolean) =>
    before === after ? (before ? ("stays" as const) : null) : after ? ("down" as const) : ("up" as const);
  if (from.kind === "valves" && to.kind === "valves")
    return {
      ...none,
      ...moved(new Set(from.valves), new Set(to.valves)),
      thumb: change(from.thumb ?? false, to.thumb ?? false),
      partials: to.partial - from.partial,
    };
  if (from.kind === "slide" && to.kind === "slide")
    return {
      ...none,
      slide: [from.position, to.position],
      thumb: change(from.trigger ?? false, to.trigger ?? false),
      partials: to.partial - from.partial,
    };
  if (from.kind === "holes" && to.kind === "holes") {
    const down = ({ fingers }: typeof from) =>
      new Set(fingers.flatMap((finger, i) => (finger === false ? [] : [i + 1])));
    return {
      ...none,
      ...moved(down(from), down(to)),
      thumb: change(from.thumb, to.thumb),
      register: change(from.register, to.register),
      keysDown: to.extra.filter((key) => !from.extra.includes(key)),
      keysUp: from.extra.filter((key) => !to.extra.includes(key)),
    };
  }
  return null;
}

/** How much changes: fingers, keys, positions of the slide, partials. */
export function effortOf(moves: FingerMoves): number {
  const key = (change: FingerMoves["thumb"]) => (change === "down" || change === "up" ? 1 : 0);
  return (
    moves.down.length +
    moves.up.length +
    moves.keysDown.length +
    moves.keysUp.length +
    key(moves.thumb) +
    key(moves.register) +
    (moves.slide ? Math.abs(moves.slide[1] - moves.slide[0]) : 0) +
    Math.abs(moves.partials)
  );
}

/**
 * The known note from which a new one is built: the one from which least moves, then the nearest in pitch.
 * @param known  written pitches with their fingerings
 * @returns null when nothing is known
 */
export function nearestKnown<K extends { pitch: Pitch; fingering: Fingering | null }>(
  note: { pitch: Pitch; fingering: Fingering | null },
  known: readonly K[],
): K | null {
  const away = ({ pitch, fingering }: K) => {
    const moves = fingering && note.fingering && fingerMoves(fingering, note.fingering);
    const semitones = Math.abs(pitchToMidi(pitch) - pitchToMidi(note.pitch));
    return (moves ? effortOf(moves) : 0) + semitones / 10;
  };
  return (
    known
      .filter(({ pitch }) => pitchToMidi(pitch) !== pitchToMidi(note.pitch))
      .sort((a, b) => away(a) - away(b))[0] ?? null
  );
}

/** Rhythms of the echo patterns on one note, in quarters: each is called and given back (common practice, no published source). */
const ECHOES: { duration: "1" | "2" | "4"; rest?: true }[][] = [
  [{ duration: "4" }],
  [{ duration: "2" }, { duration: "2" }],
  [{ duration: "1" }, { duration: "1" }, { duration: "2" }],
  [{ duration: "1" }, { duration: "1", rest: true }, { duration: "2" }],
];
const TYPE_OF = { "1": "quarter", "2": "half", "4": "whole" } as const;

/** One bar after another on a new note alone, from a held one to short ones. */
export function echoPatterns(pitch: Pitch, part: Pick<Part, "clef" | "soundsBy">): Score {
  const measures = ECHOES.map(
    (notes, bar): Measure => ({
      id: `echo-${bar + 1}`,
      number: String(bar + 1),
      ...(bar === 0 ? { time: { beats: 4, beatType: 4 } } : {}),
      events: notes.map(
        ({ duration, rest }, i): ScoreEvent => ({
          id: `echo-${bar + 1}-${i + 1}`,
          kind: rest ? "rest" : "note",
          ...(rest ? {} : { pitch }),
          duration,
          type: TYPE_OF[duration],
          dots: 0,
        }),
      ),
    }),
  );
  return {
    title: "A new note",
    parts: [{ id: "echo", name: "", clef: part.clef, soundsBy: part.soundsBy, measures }],
  };
}
