import type { SoundingNote } from "../score";
import { type AlignmentCosts, alignmentCosts, COST, gapCost } from "./align-costs";
import type { Segment } from "./segments";

/** One step of the path: which segment was heard as which note. A jump begins a new pass through the line. */
export interface Match {
  note: number;
  segment: number;
  jump: boolean;
}

export interface Alignment {
  matches: Match[];
  /** Mean cost a note of the line; small is good. */
  cost: number;
  secPerQuarter: number;
}

/**
 * A comparison that would take more is given up: pairs of a note and a sound (five bytes each), and steps from one pair to another (half a
 * minute to a minute on one core). A piece of 450 bars and 2,300 notes, as long as a take may be, takes less when it is played to its end;
 * sounds without number, made to be expensive, take more and are no line (`bin/soak costly`).
 */
const MOST = { pairs: 30e6, steps: 1.5e9 };
/**
 * Tempi that are tried: how many, from which share of the marked length of a quarter on, each so much slower than the one before; the player's
 * lies within a tenth of one of them, which costs nothing (F1 of four seeds of the combined bench with 17 of them 0.962, 0.953, 0.958 and
 * 0.956, with nine 0.962, 0.954, 0.964 and 0.958).
 */
const TEMPI = { count: 9, from: 0.58, step: 1.185 };
/** Then the player's own, so often at most, until it changes by less than this (a logarithm). */
const OWN_TEMPO = { rounds: 2, settled: 0.005 };
const MAX_NOTES_SKIPPED = 4;
/** Where a new attack is looked for inside a segment: within so much of when it is due, seconds. */
const SEAM_REACH_SEC = 0.2;
/** Two notes share a segment that lasts for so much of the second one. */
const SHARED_LASTS = 0.4;
/** Who begins again, begins after a pause: so long, seconds. */
const JUMP_GAP_SEC = 0.35;
/** A path is not followed that costs so much more than another one to the same segment, and the way from there to its note (a jump is 3.8 at most). */
const BEAM = 6;
/** Segments of which the costs are kept, a power of two: more than any step of a path looks back. */
const COLUMNS = 64;

/**
 * Finds the cheapest way to hear the segments as the line, over a range of tempi.
 *
 * Dynamic programming over (note, segment) pairs: a path goes on to one of the next notes and segments, paying for
 * notes missed, segments left over, wrong pitches and gaps that do not fit the tempo; or it jumps to another place in
 * the line (a restart, a skipped repeat) for a fixed price and for what is left over before it. Complexity O(tempi * notes * segments) and
 * as many steps more as paths are followed; memory five bytes a pair.
 *
 * @param notes     sounding notes; `midi` null compares no pitch
 * @param segments  heard segments with the take's tuning already removed from `midi`
 * @param markedSecPerQuarter  tempo asked for; half to about twice as slow is searched
 * @returns no matches, at an infinite cost, where it would take too long
 * Method: alignment with skips and jumps after C. Raphael and A. Arzt & G. Widmer's work on score following; costs are our own.
 */
export function align(
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
  markedSecPerQuarter: number,
): Alignment {
  const givenUp = { matches: [], cost: Number.POSITIVE_INFINITY, secPerQuarter: markedSecPerQuarter };
  if (notes.length * segments.length > MOST.pairs) return givenUp;
  const search = makeSearch(notes, segments, alignmentCosts(notes, segments));
  let best: Alignment | undefined;
  for (let i = 0; i < TEMPI.count; i++) {
    const found = search(markedSecPerQuarter * TEMPI.from * TEMPI.step ** i);
    if (!found) return givenUp;
    if (!best || found.cost < best.cost) best = found;
  }
  for (let round = 0; round < OWN_TEMPO.rounds; round++) {
    const tempo = ownTempo(notes, segments, best!);
    if (Math.abs(Math.log(tempo / best!.secPerQuarter)) < OWN_TEMPO.settled) break;
    const again = search(tempo);
    if (!again || again.cost > best!.cost) break;
    best = again;
  }
  return best!;
}

/** The cheapest earlier cell for a jump to each note, and its cost less what leaving over all segments up to it would cost. */
interface JumpSources {
  cost: Float64Array;
  cell: Int32Array;
}

/** Makes the search at one tempo; its tables are made once and used again for every tempo, and its steps are counted together. */
function makeSearch(
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
  costs: AlignmentCosts,
): (secPerQuarter: number) => Alignment | null {
  const [N, M] = [notes.length, segments.length];
  const { pitch, leftOver, outside, unbegun, unreached, faint, earliest } = costs;
  // Where the path to each cell came from stays; a cell is segment * N + note.
  const from = new Int32Array(N * M);
  const jumped = new Uint8Array(N * M);
  // What it cost, and when its note began (its segment's attack, or later where two notes share a segment), is asked a few segments back only.
  const total = new Float64Array(N * COLUMNS);
  const began = new Float64Array(N * COLUMNS);
  const column = (segment: number) => (segment & (COLUMNS - 1)) * N;
  const sources = (): JumpSources => ({ cost: new Float64Array(N), cell: new Int32Array(N) });
  const [backward, forward] = [sources(), sources()];
  let steps = 0;
  /** The last segment that each note may have been heard in on a path that is followed. */
  const followed = new Int32Array(N);
  const cheaper = new Float64Array(N);
  const jumpPrice = notes.map(
    ({ beat }, i) => COST.jump + (Math.abs(beat - 1) < 1e-6 || i === 0 ? 0 : COST.jumpInsideBar),
  );

  /** A path that has come to this segment may jump from it: back to any earlier note, on past some. */
  const jumpFrom = (k: number) => {
    const upTo = COST.beforeJump * leftOver[k + 1]!;
    const costs = total.subarray(column(k), column(k) + N);
    let low = Number.POSITIVE_INFINITY;
    let note = -1;
    for (let i = N - 1; i >= 0; i--) {
      const cost = costs[i]! - upTo;
      if (cost < low) {
        low = cost;
        note = i;
      }
      if (low < backward.cost[i]!) {
        backward.cost[i] = low;
        backward.cell[i] = k * N + note;
      }
    }
    low = Number.POSITIVE_INFINITY;
    for (let i = MAX_NOTES_SKIPPED + 2; i < N; i++) {
      const source = i - MAX_NOTES_SKIPPED - 2;
      const cost = costs[source]! - upTo - COST.skipForwardPerNote * source;
      if (cost < low) {
        low = cost;
        note = source;
      }
      if (low + COST.skipForwardPerNote * i < forward.cost[i]!) {
        forward.cost[i] = low + COST.skipForwardPerNote * i;
        forward.cell[i] = k * N + note;
      }
    }
  };

  /** The cheapest way to hear a segment as a note, written into the tables; what it costs. */
  const settle = (i: number, j: number, secPerQuarter: number): number => {
    const note = notes[i]!;
    const segment = segments[j]!;
    const match = pitch[i]![j]!;
    let best = unbegun(i) + outside(0, j) + match;
    let origin = -1;
    let jump = 0;
    let start = segment.onsetSec;
    for (let di = 1; di <= MAX_NOTES_SKIPPED + 1 && di <= i; di++) {
      const before = notes[i - di]!;
      const skipped = (di - 1) * COST.missed + leftOver[j]! + match;
      const expected = (note.onsetQuarters - before.onsetQuarters) * secPerQuarter;
      const again = faint[j] && note.midi === before.midi ? COST.faintAgain : 0;
      const last = followed[i - di]!;
      steps += Math.max(0, last + 1 - earliest[j]!);
      for (let k = last; k >= earliest[j]!; k--) {
        const place = column(k) + i - di;
        const known = total[place]! + skipped - leftOver[k + 1]! + again;
        if (known >= best) continue;
        const cost = known + gapCost(segment.onsetSec - began[place]!, expected);
        if (cost >= best) continue;
        best = cost;
        origin = k * N + i - di;
      }
    }
    // One long segment may hold two notes of the same pitch that were not re-attacked.
    if (i > 0 && note.midi !== null && note.midi === notes[i - 1]!.midi) {
      const place = column(j) + i - 1;
      const apart = (note.onsetQuarters - notes[i - 1]!.onsetQuarters) * secPerQuarter;
      const due = began[place]! + apart;
      const least = apart + SHARED_LASTS * note.durationQuarters * secPerQuarter;
      if (segment.offsetSec - began[place]! > least) {
        const seam = seamNear(segment, due, apart);
        const cost = total[place]! + (seam === undefined ? COST.sharedUnbroken : COST.shared);
        if (cost < best) {
          best = cost;
          origin = j * N + i - 1;
          start = seam ?? due;
        }
      }
    }
    const price = jumpPrice[i]! + (segment.gapSec > JUMP_GAP_SEC ? COST.jumpAfterGap : 0) + match;
    for (const sources of [backward, forward]) {
      const cost = sources.cost[i]! + COST.beforeJump * leftOver[j]! + price;
      if (cost >= best) continue;
      best = cost;
      origin = sources.cell[i]!;
      jump = 1;
      start = segment.onsetSec;
    }
    total[column(j) + i] = best;
    began[column(j) + i] = start;
    from[j * N + i] = origin;
    jumped[j * N + i] = jump;
    return best;
  };

  /** Which of the paths that have come to this segment are followed. */
  const follow = (k: number) => {
    const costs = total.subarray(column(k), column(k) + N);
    let low = Number.POSITIVE_INFINITY;
    for (let i = N - 1; i >= 0; i--) {
      low = Math.min(low, costs[i]!);
      cheaper[i] = low;
    }
    low = Number.POSITIVE_INFINITY;
    for (let i = 0; i < N; i++) {
      low = Math.min(low, costs[i]!);
      if (costs[i]! <= Math.min(cheaper[i]!, low) + BEAM) followed[i] = k;
      low += COST.skipForwardPerNote;
    }
  };

  return (secPerQuarter) => {
    followed.fill(-1);
    for (const { cost } of [backward, forward]) cost.fill(Number.POSITIVE_INFINITY);
    // The cell in which the cheapest path ends, and what it costs with all that comes after.
    let [end, lowest] = [-1, Number.POSITIVE_INFINITY];
    for (let j = 0; j < M; j++) {
      if (steps > MOST.steps) return null;
      const after = outside(j + 1, M);
      for (let i = 0; i < N; i++) {
        const whole = settle(i, j, secPerQuarter) + unreached(N - 1 - i) + after;
        if (whole >= lowest) continue;
        lowest = whole;
        end = j * N + i;
      }
      follow(j);
      jumpFrom(j);
    }
    const matches: Match[] = [];
    for (let cell = end; cell >= 0; cell = from[cell]!)
      matches.push({ note: cell % N, segment: Math.floor(cell / N), jump: jumped[cell] === 1 });
    return { matches: matches.reverse(), cost: lowest / Math.max(1, N), secPerQuarter };
  };
}

/** The sign of a new attack nearest to when one is due inside a segment, within a third of the note before. */
export function seamNear(segment: Segment, dueSec: number, apartSec: number): number | undefined {
  const reach = Math.min(SEAM_REACH_SEC, Math.max(0.06, apartSec / 3));
  let nearest: number | undefined;
  for (const seam of segment.seams)
    if (
      Math.abs(seam - dueSec) <= reach &&
      (nearest === undefined || Math.abs(seam - dueSec) < Math.abs(nearest - dueSec))
    )
      nearest = seam;
  return nearest;
}

/** Seconds a quarter from the matched attacks: the median over gaps of one path, weighted by their length. */
function ownTempo(notes: readonly SoundingNote[], segments: readonly Segment[], path: Alignment): number {
  const rates: [rate: number, weight: number][] = [];
  path.matches.forEach((match, place) => {
    const before = path.matches[place - 1];
    if (!before || match.jump || match.segment === before.segment) return;
    const quarters = notes[match.note]!.onsetQuarters - notes[before.note]!.onsetQuarters;
    rates.push([
      (segments[match.segment]!.onsetSec - segments[before.segment]!.onsetSec) / quarters,
      quarters,
    ]);
  });
  if (rates.length < 3) return path.secPerQuarter;
  rates.sort((a, b) => a[0] - b[0]);
  const middle = rates.reduce((sum, [, weight]) => sum + weight, 0) / 2;
  let sum = 0;
  for (const [rate, weight] of rates) if ((sum += weight) >= middle) return rate;
  return path.secPerQuarter;
}
