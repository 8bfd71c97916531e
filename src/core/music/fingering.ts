/** Woodwind keys: which of the six main fingers are down, the thumb, the octave or register key, and named extra keys. */
export interface HoleFingering {
  kind: "holes";
  thumb: boolean;
  register: boolean;
  /** Left then right hand, three fingers each: true is down, "half" a half-covered hole. */
  fingers: (boolean | "half")[];
  extra: string[];
}
export interface ValveFingering {
  kind: "valves";
  /** Valves down, a subset of 1 to 4; empty is open. */
  valves: number[];
  /** The thumb valve of a double horn is down. */
  thumb?: true;
  partial: number;
  /** How far the nominal note lies from equal temperament before lips and slides correct it, cents, + is sharp. */
  cents: number;
}
export interface SlideFingering {
  kind: "slide";
  /** 1 to 7; with the trigger the positions lie further apart and there are fewer. */
  position: number;
  trigger?: true;
  partial: number;
  /** How far the partial lies from equal temperament with the slide in the nominal position, cents, + is sharp. */
  cents: number;
}
export type Fingering = HoleFingering | ValveFingering | SlideFingering;

/** What a fingering has been checked by, beside the memory it was written from. */
export type FingeringCheck =
  /** A director of the band has set or confirmed it. */
  | "director"
  /** It is computed from the harmonic series and the lengths of valves or slide. */
  | "harmonic series"
  /** The holes it leaves open give this note in the low register (`acoustics.ts`). */
  | "tone holes"
  /** Its holes give the note an octave or twelfth below, and what changes the register is added (`acoustics.ts`). */
  | "register"
  /** It is among the check values of the trade (common practice, no published source). */
  | "common practice";
