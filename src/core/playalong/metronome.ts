import type { PlayAlong, PlayAlongEvent } from "./events";

export interface MetronomeSettings {
  /** 20 to 300. */
  bpm: number;
  /** Beats in a bar, 1 to 12; the first is accented where `accents` is on. */
  beats: number;
  subdivisions: 1 | 2 | 3 | 4;
  accents: boolean;
  /** So many bars click, then so many are silent: the beat is kept inside. 0 never falls silent. */
  silentBars: number;
  soundingBars: number;
}

/**
 * A stretch of clicks that can go round for ever: its end is its beginning.
 * @throws RangeError for a tempo or a bar that no metronome has
 */
export function metronomePlan({
  bpm,
  beats,
  subdivisions,
  accents,
  silentBars,
  soundingBars,
}: MetronomeSettings): PlayAlong {
  if (!(bpm >= 20 && bpm <= 300)) throw new RangeError("A metronome goes from 20 to 300 beats a minute");
  if (!(Number.isInteger(beats) && beats >= 1 && beats <= 12))
    throw new RangeError("A bar has 1 to 12 beats");
  const beatSec = 60 / bpm;
  const sounding = Math.max(1, soundingBars);
  const events: PlayAlongEvent[] = [];
  for (let bar = 0; bar < sounding; bar++)
    for (let beat = 0; beat < beats; beat++)
      for (let part = 0; part < subdivisions; part++)
        events.push({
          atSec: (bar * beats + beat + part / subdivisions) * beatSec,
          kind: part === 0 ? "click" : "subdivision",
          accent: accents && beat === 0 && part === 0,
        });
  return { events, startSec: 0, totalSec: (sounding + Math.max(0, silentBars)) * beats * beatSec };
}

/** Taps further apart than this are another try, seconds. */
const LONGEST_GAP_SEC = 2.5;

/**
 * A tempo tapped by hand: the middle of the gaps since the last pause.
 * @param tapsSec  instants of taps, in order
 * @returns whole beats a minute, 20 to 300; null with fewer than two taps
 * @example
 * tappedTempo([0, 0.5, 1, 1.5]) // => 120
 */
export function tappedTempo(tapsSec: readonly number[]): number | null {
  const gaps: number[] = [];
  for (let i = tapsSec.length - 1; i > 0; i--) {
    const gap = tapsSec[i]! - tapsSec[i - 1]!;
    if (gap > LONGEST_GAP_SEC) break;
    gaps.push(gap);
  }
  if (gaps.length === 0) return null;
  const sorted = [...gaps].sort((a, b) => a - b);
  const middle = (sorted[Math.floor((sorted.length - 1) / 2)]! + sorted[Math.floor(sorted.length / 2)]!) / 2;
  return Math.max(20, Math.min(300, Math.round(60 / middle)));
}
