import type { SoundingNote } from "../score";
import { continues, onSamePitch, pitchFor, type Segment, usualPeakDb } from "./segments";

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

/** Costs of the events a path may contain; the unit is "one plainly missed note is 1.2". */
const COST = {
  /** A gain: without it, hearing nothing at all would be cheaper than a line with many wrong notes. */
  rightPitch: -0.45,
  missed: 1.2,
  semitoneOff: 0.9,
  octaveOff: 1.1,
  wrong: 1.3,
  extra: 0.35,
  extraLong: 0.85,
  /** A stretch that may be the sound before going on. */
  continued: 0.05,
  struckAgain: 0.3,
  lateCap: 1.2,
  jump: 3,
  jumpInsideBar: 0.8,
  jumpAfterGap: -0.6,
  skipForwardPerNote: 0.35,
  shared: 0.3,
  sharedUnbroken: 1,
  faintAgain: 0.8,
  /** A sound before the first note or after the last; a stroke, which has no pitch to tell it by, and all of them together. */
  outside: 0.45,
  strokeOutside: 0.3,
  strokesOutside: 6,
  unreached: 1.2,
  unreachedCap: 6,
};
/**
 * What is soft, or holds no pitch, is hardly the player's: a television, a child next door, breath. Levels against the take's usual one, dB;
 * spreads of the pitch, semitones; the least a sound counts.
 */
const PLAYERS_OWN = { loudDb: -4, softDb: -16, steady: 0.12, unsteady: 0.32, least: 0.25 };
const MAX_NOTES_SKIPPED = 4;
const MAX_SEGMENTS_SKIPPED = 4;
const FAINT_DIP_DB = 4;
const SEAM_REACH_SEC = 0.2;
/** Segments looked back over in all. */
const MOST_STRETCHES = 40;
/** Timing inside this share of the expected gap, or this many seconds, costs nothing. */
const FREE_RATIO = 0.12;
const FREE_SEC = 0.05;

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
  const pitchCosts = pitchCostTable(notes, segments);
  const own = playersOwn(segments);
  const tempi = Array.from({ length: 17 }, (_, i) => markedSecPerQuarter * 0.56 * 1.09 ** i);
  let best: Alignment | undefined;
  for (const secPerQuarter of tempi) {
    const found = alignAtTempo(notes, segments, pitchCosts, own, secPerQuarter);
    if (!best || found.cost < best.cost) best = found;
  }
  for (let round = 0; round < 2; round++) {
    const tempo = ownTempo(notes, segments, best!);
    if (Math.abs(Math.log(tempo / best!.secPerQuarter)) < 0.005) break;
    const again = alignAtTempo(notes, segments, pitchCosts, own, tempo);
    if (again.cost > best!.cost) break;
    best = again;
  }
  return best!;
}

function pitchCostTable(notes: readonly SoundingNote[], segments: readonly Segment[]): Float32Array {
  const table = new Float32Array(notes.length * segments.length);
  notes.forEach((note, i) => {
    segments.forEach((segment, j) => {
      if (note.midi === null || segment.midi === null) return;
      const off = Math.abs(pitchFor(segment, note.midi) - note.midi);
      const octave = Math.abs(off - 12) < 0.6 || Math.abs(off - 24) < 0.6;
      table[i * segments.length + j] =
        off < 0.55
          ? COST.rightPitch + 0.15 * off
          : off < 1.4
            ? COST.semitoneOff
            : octave
              ? COST.octaveOff
              : COST.wrong;
    });
  });
  return table;
}

function alignAtTempo(
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
  pitchCosts: Float32Array,
  own: Float64Array,
  secPerQuarter: number,
): Alignment {
  const N = notes.length;
  const M = segments.length;
  const total = new Float64Array(N * M).fill(Number.POSITIVE_INFINITY);
  const from = new Int32Array(N * M).fill(-1);
  const jumped = new Uint8Array(N * M);
  // When the note of a cell began: its segment's attack, or later where two notes share a segment.
  const began = new Float64Array(N * M);
  const extraCost = new Float64Array(M + 1);
  const outside = new Float64Array(M + 1);
  const strokes = notes.every(({ midi }) => midi === null);
  // Between two places of the take, the second one left out.
  const outsideCost = (from: number, to: number) =>
    strokes ? Math.min(COST.strokesOutside, COST.strokeOutside * (to - from)) : outside[to]! - outside[from]!;
  const weak = segments.map((segment, j) => continues(segment, segments[j - 1]));
  // Struck again on its pitch without a pause: a note of its own, or a sound that throbs.
  const again = segments.map((segment, j) => onSamePitch(segment, segments[j - 1]));
  // The same pitch going on with hardly a dip is hardly a new note.
  const faint = segments.map((segment, j) => weak[j]! && segment.dipDb < FAINT_DIP_DB);
  const earliest = segments.map((_, j) => earliestBefore(j, again));
  segments.forEach((segment, j) => {
    const seconds = segment.offsetSec - segment.onsetSec;
    const cost = weak[j]
      ? COST.continued
      : again[j]
        ? COST.struckAgain
        : own[j]! * (COST.extra + COST.extraLong * Math.min(1, seconds / 0.3));
    extraCost[j + 1] = extraCost[j]! + cost;
    outside[j + 1] = outside[j]! + Math.min(cost, COST.outside * own[j]!);
  });

  for (let j = 0; j < M; j++) {
    // The cheapest earlier cells a jump may come from, for segments just before this one.
    const backward = new Float64Array(N).fill(Number.POSITIVE_INFINITY);
    const backwardCell = new Int32Array(N).fill(-1);
    const forward = new Float64Array(N).fill(Number.POSITIVE_INFINITY);
    const forwardCell = new Int32Array(N).fill(-1);
    for (let k = Math.min(Math.max(0, j - 3), earliest[j]!); k < j; k++) {
      const between = extraCost[j]! - extraCost[k + 1]!;
      let low = Number.POSITIVE_INFINITY;
      let cell = -1;
      for (let i = N - 1; i >= 0; i--) {
        const cost = total[i * M + k]! + between;
        if (cost < low) {
          low = cost;
          cell = i * M + k;
        }
        if (low < backward[i]!) {
          backward[i] = low;
          backwardCell[i] = cell;
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
        if (low + COST.skipForwardPerNote * i < forward[i]!) {
          forward[i] = low + COST.skipForwardPerNote * i;
          forwardCell[i] = cell;
        }
      }
    }
    for (let i = 0; i < N; i++) {
      const here = i * M + j;
      const match = pitchCosts[here]!;
      let best = Math.min(COST.unreachedCap, COST.unreached * i) + outsideCost(0, j) + match;
      let origin = -1;
      let jump = 0;
      let start = segments[j]!.onsetSec;
      for (let di = 1; di <= MAX_NOTES_SKIPPED + 1 && di <= i; di++) {
        const skipCost = (di - 1) * COST.missed;
        const expected = (notes[i]!.onsetQuarters - notes[i - di]!.onsetQuarters) * secPerQuarter;
        const repeated = notes[i]!.midi === notes[i - di]!.midi;
        for (let dj = 1; j - dj >= earliest[j]!; dj++) {
          const cell = (i - di) * M + (j - dj);
          const known = total[cell]! + skipCost + extraCost[j]! - extraCost[j - dj + 1]! + match;
          if (known >= best) continue;
          const cost =
            known +
            (repeated && faint[j] ? COST.faintAgain : 0) +
            gapCost(segments[j]!.onsetSec - began[cell]!, expected);
          if (cost < best) {
            best = cost;
            origin = cell;
            jump = 0;
          }
        }
      }
      // One long segment may hold two notes of the same pitch that were not re-attacked.
      if (i > 0 && notes[i]!.midi === notes[i - 1]!.midi && notes[i]!.midi !== null) {
        const lasts = segments[j]!.offsetSec - began[(i - 1) * M + j]!;
        const apart = (notes[i]!.onsetQuarters - notes[i - 1]!.onsetQuarters) * secPerQuarter;
        const due = began[(i - 1) * M + j]! + apart;
        const seam = seamNear(segments[j]!, due, apart);
        const cost = total[(i - 1) * M + j]! + (seam === undefined ? COST.sharedUnbroken : COST.shared);
        if (lasts > apart + 0.4 * notes[i]!.durationQuarters * secPerQuarter && cost < best) {
          best = cost;
          origin = (i - 1) * M + j;
          jump = 0;
          start = seam ?? due;
        }
      }
      const place = Math.abs(notes[i]!.beat - 1) < 1e-6 || i === 0 ? 0 : COST.jumpInsideBar;
      const rest = segments[j]!.gapSec > 0.35 ? COST.jumpAfterGap : 0;
      for (const [costs, cells] of [
        [backward, backwardCell],
        [forward, forwardCell],
      ] as const) {
        const cost = costs[i]! + COST.jump + place + rest + match;
        if (cost < best) {
          best = cost;
          origin = cells[i]!;
          jump = 1;
          start = segments[j]!.onsetSec;
        }
      }
      total[here] = best;
      from[here] = origin;
      jumped[here] = jump;
      began[here] = start;
    }
  }

  let end = -1;
  let lowest = Number.POSITIVE_INFINITY;
  for (let i = 0; i < N; i++) {
    for (let j = 0; j < M; j++) {
      const cost =
        total[i * M + j]! + Math.min(COST.unreachedCap, COST.unreached * (N - 1 - i)) + outsideCost(j + 1, M);
      if (cost < lowest) {
        lowest = cost;
        end = i * M + j;
      }
    }
  }
  const matches: Match[] = [];
  for (let cell = end; cell >= 0; cell = from[cell]!)
    matches.push({ note: Math.floor(cell / M), segment: cell % M, jump: jumped[cell] === 1 });
  matches.reverse();
  return { matches, cost: lowest / Math.max(1, N), secPerQuarter };
}

/** How much each segment counts as the player's own, 0 to 1: by its loudness and how steady its pitch is. */
function playersOwn(segments: readonly Segment[]): Float64Array {
  const usual = usualPeakDb(segments);
  const { loudDb, softDb, steady, unsteady, least } = PLAYERS_OWN;
  const share = (value: number, none: number, all: number) =>
    Math.max(0, Math.min(1, (value - none) / (all - none)));
  return Float64Array.from(segments, ({ peakDb, spread }) =>
    Math.max(least, share(peakDb - usual, softDb, loudDb) * share(spread, unsteady, steady)),
  );
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

/** The first segment that the note before may have been heard in: so many others may lie between, and any number of stretches that only go on. */
function earliestBefore(j: number, weak: readonly boolean[]): number {
  let skipped = 0;
  let place = j - 1;
  while (place > 0 && j - place < MOST_STRETCHES && (weak[place] || skipped < MAX_SEGMENTS_SKIPPED)) {
    if (!weak[place]) skipped++;
    place--;
  }
  return Math.max(0, place);
}

/** What a gap between two attacks costs when it does not fit: free up to 12 % or 50 ms, then rising to a cap. */
function gapCost(playedSec: number, expectedSec: number): number {
  const off = Math.abs(playedSec - expectedSec) - FREE_SEC;
  if (off <= 0) return 0;
  const ratio =
    Math.abs(
      Math.log(
        Math.max(0.02, playedSec > expectedSec ? playedSec - FREE_SEC : playedSec + FREE_SEC) / expectedSec,
      ),
    ) - FREE_RATIO;
  return ratio <= 0 ? 0 : Math.min(COST.lateCap, (ratio / 0.4) ** 2 + 0.6 * ratio);
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
