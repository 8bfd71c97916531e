/**
 * A pitch class of the concert scale as warm-ups name it: "Bb", "F", "F#". The octave follows from each instrument.
 */
export type ConcertName = string;

/** How fast a block goes: one tempo, one after another, or that of the piece that follows. Beats are quarter notes. */
export type BlockTempo =
  | { kind: "fixed"; bpm: number }
  | { kind: "ladder"; bpms: number[] }
  | { kind: "piece" };

export type Value = "whole" | "half" | "quarter" | "eighth" | "16th";
/** Both ways one after the other, in the order a school prefers. */
export type Tonguing = "tongued" | "slurred" | "tongued-then-slurred" | "slurred-then-tongued";
export type Direction = "up" | "down" | "up-and-down";
export type Sign = "plain" | "accent" | "staccato" | "marcato" | "tenuto";

/** Settings of each family; counts are quarter notes. */
export interface Families {
  /** Wait, breathe in, blow out: by default breathe on 4 and blow on 5 to 8, three times. */
  breathing: { waitCounts: number; inCounts: number; outCounts: number; rounds: number };
  /** Head joint, mouthpiece, buzz: whatever the instrument begins with. */
  "first-sounds": {
    sound: "steady" | "siren" | "short";
    countsOn: number;
    countsOff: number;
    rounds: number;
  };
  /** The scale degrees are held one after another, each so many counts on and off. */
  "long-tones": {
    fifths: number;
    degrees: number[];
    countsOn: number;
    countsOff: number;
    /** While the brass rests, the others rest too, or hold the note once more. */
    others: "rest" | "again";
    rounds: number;
  };
  /** The highest (lowest) comfortable note, then one semitone further each. */
  "range-steps": { direction: "up" | "down"; steps: number; countsOn: number; countsOff: number };
  /** Down a semitone and back, two, three ...: F-E-F, F-Eb-F ... */
  "chromatic-descent": { from: ConcertName; steps: number; value: Value; tonguing: Tonguing };
  /** Two notes on one fingering or one added key, each instrument in its own right way. */
  slurs: { direction: "down" | "up"; steps: number; values: Value[]; countsOff: number };
  /** One note in one style of attack after another. */
  articulation: { note: ConcertName; signs: Sign[]; value: Value; countsEach: number; rounds: number };
  /** One unbroken breath while the tongue moves; air stopped by the tongue; air let go by it. */
  tonguing: {
    note: ConcertName;
    drill: "one-breath" | "stopped-air" | "released-air";
    values: Value[];
    rounds: number;
  };
  scales: {
    keys: number[];
    pattern: "major" | "five-note" | "thirds" | "1-5-1" | "falling-intervals";
    octaves: 1 | 2;
    rhythm: "half" | "quarter" | "eighth" | "quarter-and-eighth";
    direction: Direction;
    tonguing: Tonguing;
    /** Rest after each time through. */
    countsOff: number;
    repeats: number;
  };
  /** One pattern a semitone higher (lower) each time. */
  "half-step-cycle": {
    from: ConcertName;
    pattern: "1-5-1" | "falling-intervals";
    steps: number;
    direction: "up" | "down";
    tonguing: Tonguing;
    /** Rest after each step. */
    countsOff: number;
  };
  "chromatic-scale": {
    from: ConcertName;
    octaves: 1 | 2;
    value: Value;
    direction: Direction;
    tonguing: Tonguing;
  };
  chorale: { fifths: number; voices: "unison" | "harmony"; rounds: number };
}
export type Family = keyof Families;
export type Settings = { [F in Family]: { family: F } & Families[F] }[Family];

/** One item of a routine. */
export type Block = Settings & {
  id: string;
  /** The director's own heading; the family's when empty. */
  title: string;
  tempo: BlockTempo;
  /** Fingerings and positions under the notes where they change. */
  cues: boolean;
  /** Groups that sit this block out. */
  mutedFor: string[];
};

/** Least and most of every number in the settings, counts in quarter notes. */
export const LIMITS = {
  bpm: [30, 240],
  waitCounts: [0, 12],
  inCounts: [1, 8],
  outCounts: [1, 16],
  rounds: [1, 6],
  countsOn: [2, 16],
  countsOff: [0, 16],
  steps: [1, 12],
  countsEach: [4, 16],
  octaves: [1, 2],
  repeats: [1, 4],
} as const;
/** Steps of single families are fewer: seven lengths of tube, five semitones beyond a comfortable note. */
export const MOST_STEPS: Partial<Record<Family, number>> = { slurs: 7, "range-steps": 5 };

const LIMIT_WORDS: Record<keyof typeof LIMITS, string> = {
  bpm: "beats a minute",
  waitCounts: "counts to wait",
  inCounts: "counts to breathe in",
  outCounts: "counts to blow",
  rounds: "rounds",
  countsOn: "counts on",
  countsOff: "counts off",
  steps: "steps",
  countsEach: "counts for each style",
  octaves: "octaves",
  repeats: "times through",
};

/** A request that no score can answer: one sentence, and the nearest settings that can be. */
export class WarmUpError extends RangeError {
  constructor(
    message: string,
    readonly offer: Block,
  ) {
    super(message);
  }
}

/**
 * @throws WarmUpError for the first setting that cannot be played, with the nearest block that can
 */
export function checkBlock(block: Block): void {
  const offer = nearestBlock(block);
  const tempi =
    block.tempo.kind === "fixed" ? [block.tempo.bpm] : block.tempo.kind === "ladder" ? block.tempo.bpms : [];
  const given: [keyof typeof LIMITS, number][] = [
    ...tempi.map((bpm): [keyof typeof LIMITS, number] => ["bpm", bpm]),
    ...(Object.entries(block) as [keyof typeof LIMITS, number][]).filter(([name]) => name in LIMITS),
  ];
  for (const [name, value] of given) {
    const near = within(name, value, block.family);
    if (near !== value)
      throw new WarmUpError(
        `${value} ${LIMIT_WORDS[name]} cannot be played; the nearest that can is ${near}.`,
        offer,
      );
  }
  for (const [name, sentence] of Object.entries(EMPTY_WORDS)) {
    const list = (block as unknown as Record<string, unknown>)[name];
    if (Array.isArray(list) && list.length === 0) throw new WarmUpError(sentence, offer);
  }
  if (block.tempo.kind === "ladder" && tempi.length === 0)
    throw new WarmUpError("A tempo ladder has at least one tempo, such as 80.", offer);
}

const EMPTY_WORDS = {
  degrees: "Long tones need at least one scale degree, such as 5.",
  values: "Choose at least one note value, such as quarter notes.",
  signs: "Choose at least one style of attack, such as plain.",
  keys: "Scales need at least one key, such as concert B♭.",
};

/** The block with every number moved into its limits and every empty list filled with the usual one. */
function nearestBlock(block: Block): Block {
  const usual = USUAL[block.family] as unknown as Record<string, unknown>;
  const near = Object.fromEntries(
    Object.entries(block).map(([name, value]) => {
      if (name in LIMITS) return [name, within(name as keyof typeof LIMITS, value as number, block.family)];
      return [name, Array.isArray(value) && value.length === 0 && name in usual ? usual[name] : value];
    }),
  ) as unknown as Block;
  const bpm = (value: number) => within("bpm", value, block.family);
  const { tempo } = block;
  if (tempo.kind === "fixed") return { ...near, tempo: { ...tempo, bpm: bpm(tempo.bpm) } };
  if (tempo.kind === "ladder")
    return { ...near, tempo: { ...tempo, bpms: tempo.bpms.length > 0 ? tempo.bpms.map(bpm) : [80] } };
  return near;
}

function within(name: keyof typeof LIMITS, value: number, family: Family): number {
  const [least, most] = LIMITS[name];
  const highest = name === "steps" ? (MOST_STEPS[family] ?? most) : most;
  return Number.isFinite(value) ? Math.min(highest, Math.max(least, Math.round(value))) : least;
}

export const FAMILY_NAMES: Record<Family, string> = {
  breathing: "Breathing",
  "first-sounds": "Sounds before notes",
  "long-tones": "Long tones",
  "range-steps": "Range steps",
  "chromatic-descent": "Chromatic descent",
  slurs: "Slurs: lip, register, octave",
  articulation: "Articulation on one note",
  tonguing: "Tongue and air",
  scales: "Scales",
  "half-step-cycle": "Half-step cycle",
  "chromatic-scale": "Chromatic scale",
  chorale: "Chorale",
};

/** Where each family starts from; facts of the trade (8 on and 8 off, three breaths, seven steps): common practice, no published source. */
export const USUAL: { [F in Family]: Families[F] } = {
  breathing: { waitCounts: 3, inCounts: 1, outCounts: 4, rounds: 3 },
  "first-sounds": { sound: "steady", countsOn: 4, countsOff: 4, rounds: 3 },
  "long-tones": {
    fifths: -2,
    degrees: [5, 4, 3, 2, 1],
    countsOn: 8,
    countsOff: 8,
    others: "rest",
    rounds: 1,
  },
  "range-steps": { direction: "up", steps: 2, countsOn: 4, countsOff: 8 },
  "chromatic-descent": { from: "F", steps: 7, value: "half", tonguing: "slurred" },
  slurs: { direction: "down", steps: 4, values: ["whole", "half", "quarter"], countsOff: 8 },
  articulation: {
    note: "F",
    signs: ["plain", "accent", "staccato", "marcato"],
    value: "quarter",
    countsEach: 8,
    rounds: 1,
  },
  tonguing: { note: "F", drill: "one-breath", values: ["half", "quarter", "eighth"], rounds: 2 },
  scales: {
    keys: [-2],
    pattern: "major",
    octaves: 1,
    rhythm: "quarter",
    direction: "up-and-down",
    tonguing: "tongued",
    countsOff: 4,
    repeats: 1,
  },
  "half-step-cycle": {
    from: "Bb",
    pattern: "1-5-1",
    steps: 6,
    direction: "up",
    tonguing: "slurred",
    countsOff: 4,
  },
  "chromatic-scale": {
    from: "F",
    octaves: 1,
    value: "quarter",
    direction: "up-and-down",
    tonguing: "slurred",
  },
  chorale: { fifths: -2, voices: "harmony", rounds: 1 },
};

/** The usual block of a family at a comfortable tempo. */
export function usualBlock<F extends Family>(
  family: F,
  id: string,
  changes: Partial<Families[F]> & { bpm?: number; title?: string } = {},
): Block {
  const { bpm = 72, title = "", ...settings } = changes;
  return {
    family,
    ...USUAL[family],
    ...settings,
    id,
    title,
    tempo: { kind: "fixed", bpm },
    cues: true,
    mutedFor: [],
  } as unknown as Block;
}

export function blockTitle(block: Block): string {
  return block.title || FAMILY_NAMES[block.family];
}
