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

/** Tempi that are tried: how many, from which share of the marked length of a quarter on, each so much slower than the one before. */
const TEMPI = { count: 17, from: 0.56, step: 1.09 };
/** Then the player's own, so often at most, until it changes by less than this (a logarithm). */
const OWN_TEMPO = { rounds: 2, settled: 0.005 };
const MAX_NOTES_SKIPPED = 4;
/** A jump is looked for from so many segments back. */
const JUMP_REACH = 3;
/** Where a new attack is looked for inside a segment: within so much of when it is due, seconds. */
const SEAM_REACH_SEC = 0.2;
/** Two notes share a segment that lasts for so much of the second one. */
const SHARED_LASTS = 0.4;
/** Who begins again, begins after a pause: so long, seconds. */
const JUMP_GAP_SEC = 0.35;

/**
 * Finds the cheapest way to hear the segments as the line, over a range of tempi.
 *
 * Dynamic programming over (note, segment) pairs: a path goes on to one of the next notes and segments, paying for
 * notes missed, segments left over, wrong pitches and gaps that do not fit the tempo; or it jumps to another place in
 * the line (a restart, a skipped repeat) for a fixed price. Complexity O(tempi * notes * segments * window).
 *
 * @param notes     sounding notes; `midi` null compares no pitch
 * @param segments  heard segments with the take's tuning already removed from `midi`
 * @param markedSecPerQuarter  tempo asked for; half to about twice as slow is searched
 * Method: alignment with skips and jumps after C. Raphael and A. Arzt & G. Widmer's work on score following; costs are our own.
 */
export function align(
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
  markedSecPerQuarter: number,
): Alignment {
  const search = makeSearch(notes, segments, alignmentCosts(notes, segments));
  let best: Alignment | undefined;
  for (let i = 0; i < TEMPI.count; i++) {
    const found = search(markedSecPerQuarter * TEMPI.from * TEMPI.step ** i);
    if (!best || found.cost < best.cost) best = found;
  }
  for (let round = 0; round < OWN_TEMPO.rounds; round++) {
    const tempo = ownTempo(notes, segments, best!);
    if (Math.abs(Math.log(tempo / best!.secPerQuarter)) < OWN_TEMPO.settled) break;
    const again = search(tempo);
    if (again.cost > best!.cost) break;
    best = again;
  }
  return best!;
}

/** The cheapest earlier cell for a jump to each note. */
interface JumpSources {
  cost: Float64Array;
  cell: Int32Array;
}

/** Makes the search at one tempo; its tables are made once and used again for every tempo. */
function makeSearch(
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
  costs: AlignmentCosts,
): (secPerQuarter: number) => Alignment {
  const [N, M] = [notes.length, segments.length];
  const { pitch, leftOver, outside, unreached, faint, earliest } = costs;
  const total = new Float64Array(N * M);
  const from = new Int32Array(N * M);
  const jumped = new Uint8Array(N * M);
  // When the note of a cell began: its segment's attack, or later where two notes share a segment.
  const began = new Float64Array(N * M);
  const sources = (): JumpSources => ({ cost: new Float64Array(N), cell: new Int32Array(N) });
  const [backward, forward] = [sources(), sources()];
  const jumpPrice = notes.map(
    ({ beat }, i) => COST.jump + (Math.abs(beat - 1) < 1e-6 || i === 0 ? 0 : COST.jumpInsideBar),
  );

  /** From where the path may jump to each note, for segments just before this one: back to any earlier note, on past some. */
  const findJumps = (j: number) => {
    for (const each of [backward, forward]) {
      each.cost.fill(Number.POSITIVE_INFINITY);
      each.cell.fill(-1);
    }
    for (let k = Math.min(Math.max(0, j - JUMP_REACH), earliest[j]!); k < j; k++) {
      const between = leftOver[j]! - leftOver[k + 1]!;
      let low = Number.POSITIVE_INFINITY;
      let cell = -1;
      for (let i = N - 1; i >= 0; i--) {
        const cost = total[i * M + k]! + between;
        if (cost < low) {
          low = cost;
          cell = i * M + k;
        }
        if (low < backward.cost[i]!) {
          backward.cost[i] = low;
          backward.cell[i] = cell;
        }
      }
      low = Number.POSITIVE_INFINITY;
      for (let i = MAX_NOTES_SKIPPED + 2; i < N; i++) {
        const source = i - MAX_NOTES_SKIPPED - 2;
        const cost = total[source * M + k]! + between - COST.skipForwardPerNote * source;
        if (cost < low) {
          low = cost;
          cell = source * M + k;
        }
        if (low + COST.skipForwardPerNote * i < forward.cost[i]!) {
          forward.cost[i] = low + COST.skipForwardPerNote * i;
          forward.cell[i] = cell;
        }
      }
    }
  };

  /** The cheapest way to hear a segment as a note, written into the tables. */
  const settle = (i: number, j: number, secPerQuarter: number) => {
    const here = i * M + j;
    const [note, segment] = [notes[i]!, segments[j]!];
    const match = pitch[here]!;
    let best = unreached(i) + outside(0, j) + match;
    let origin = -1;
    let jump = 0;
    let start = segment.onsetSec;
    for (let di = 1; di <= MAX_NOTES_SKIPPED + 1 && di <= i; di++) {
      const before = notes[i - di]!;
      const skipped = (di - 1) * COST.missed + leftOver[j]! + match;
      const expected = (note.onsetQuarters - before.onsetQuarters) * secPerQuarter;
      const again = faint[j] && note.midi === before.midi ? COST.faintAgain : 0;
      const row = (i - di) * M;
      for (let k = j - 1; k >= earliest[j]!; k--) {
        const known = total[row + k]! + skipped - leftOver[k + 1]! + again;
        if (known >= best) continue;
        const cost = known + gapCost(segment.onsetSec - began[row + k]!, expected);
        if (cost >= best) continue;
        best = cost;
        origin = row + k;
      }
    }
    // One long segment may hold two notes of the same pitch that were not re-attacked.
    if (i > 0 && note.midi !== null && note.midi === notes[i - 1]!.midi) {
      const cell = here - M;
      const apart = (note.onsetQuarters - notes[i - 1]!.onsetQuarters) * secPerQuarter;
      const due = began[cell]! + apart;
      const least = apart + SHARED_LASTS * note.durationQuarters * secPerQuarter;
      if (segment.offsetSec - began[cell]! > least) {
        const seam = seamNear(segment, due, apart);
        const cost = total[cell]! + (seam === undefined ? COST.sharedUnbroken : COST.shared);
        if (cost < best) {
          best = cost;
          origin = cell;
          start = seam ?? due;
        }
      }
    }
    const price = jumpPrice[i]! + (segment.gapSec > JUMP_GAP_SEC ? COST.jumpAfterGap : 0) + match;
    for (const sources of [backward, forward]) {
      const cost = sources.cost[i]! + price;
      if (cost >= best) continue;
      best = cost;
      origin = sources.cell[i]!;
      jump = 1;
      start = segment.onsetSec;
    }
    total[here] = best;
    from[here] = origin;
    jumped[here] = jump;
    began[here] = start;
  };

  /** The cell in which the cheapest path ends, and what it costs with all that comes after. */
  const cheapestEnd = (): [cell: number, cost: number] => {
    let [end, lowest] = [-1, Number.POSITIVE_INFINITY];
    for (let i = 0; i < N; i++)
      for (let j = 0; j < M; j++) {
        const cost = total[i * M + j]! + unreached(N - 1 - i) + outside(j + 1, M);
        if (cost >= lowest) continue;
        lowest = cost;
        end = i * M + j;
      }
    return [end, lowest];
  };

  return (secPerQuarter) => {
    for (let j = 0; j < M; j++) {
      findJumps(j);
      for (let i = 0; i < N; i++) settle(i, j, secPerQuarter);
    }
    const [end, lowest] = cheapestEnd();
    const matches: Match[] = [];
    for (let cell = end; cell >= 0; cell = from[cell]!)
      matches.push({ note: Math.floor(cell / M), segment: cell % M, jump: jumped[cell] === 1 });
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
