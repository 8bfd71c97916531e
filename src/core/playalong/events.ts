import type { Timeline } from "../score";

/** One sound of a play-along, seconds from its beginning. */
export interface PlayAlongEvent {
  atSec: number;
  kind: "count" | "click" | "note";
  /** First beat of a bar. */
  accent: boolean;
  /** Notes only. */
  midi?: number;
  durationSec?: number;
  /** Id of the notehead that sounds, for a cursor. */
  eventId?: string;
}

export interface PlayAlong {
  events: PlayAlongEvent[];
  /** When the line's first event sounds: the length of the count-off. */
  startSec: number;
  totalSec: number;
}

/**
 * Count-off, click and reference for a line.
 * The count-off is one full bar of beats; a pickup takes its place in that bar, so that the count ends where the
 * pickup begins ("1 2 3" and in, for a pickup on four), after a whole bar of its own when the pickup is longer than half.
 *
 * @param line  timeline at the tempo to play
 */
export function playAlong(line: Timeline): PlayAlong {
  const firstBar = line.measures[0]!;
  const { secPerQuarter } = firstBar;
  const beat = firstBar.beatQuarters;
  const barQuarters = firstBar.durationQuarters + line.pickupOffsetQuarters;
  const counted =
    line.pickupOffsetQuarters === 0
      ? barQuarters
      : line.pickupOffsetQuarters + (line.pickupOffsetQuarters < barQuarters / 2 ? barQuarters : 0);
  const startSec = counted * secPerQuarter;
  const events: PlayAlongEvent[] = [];
  for (let at = 0; at < counted - 1e-9; at += beat)
    events.push({ atSec: at * secPerQuarter, kind: "count", accent: Math.abs(at % barQuarters) < 1e-9 });
  for (const bar of line.measures) {
    const offset = bar === firstBar ? line.pickupOffsetQuarters : 0;
    const firstBeat = Math.ceil(offset / bar.beatQuarters - 1e-9) * bar.beatQuarters;
    for (let at = firstBeat; at < offset + bar.durationQuarters - 1e-9; at += bar.beatQuarters) {
      events.push({
        atSec: startSec + bar.onsetSec + (at - offset) * bar.secPerQuarter,
        kind: "click",
        accent: at === 0,
      });
    }
  }
  for (const note of line.notes) {
    events.push({
      atSec: startSec + note.onsetSec,
      kind: "note",
      accent: false,
      durationSec: note.durationSec,
      eventId: note.eventId,
      ...(note.midi === null ? {} : { midi: note.midi }),
    });
  }
  return { events: events.sort((a, b) => a.atSec - b.atSec), startSec, totalSec: startSec + line.totalSec };
}
