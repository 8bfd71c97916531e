import type { SectionFault } from "../playalong";
import type { Cause } from "../progress";
import { type Score, timeline } from "../score";

/** What most takes of a section have in common. */
export interface CommonCause {
  cause: Cause;
  /** Takes in which it was found, of how many. */
  takes: number;
  of: number;
}

/** Fewer takes are no section, and would tell on a single child. */
const LEAST_TAKES = 3;
const LEAST_ALIKE = 2;

/**
 * The cause that most takes of a section share, of those a rendering can show: each take counts once, places are those where at
 * least two agree.
 *
 * @param takes  causes of one take of each player
 * @returns null with too few takes, or where no cause is shared
 */
export function commonCause(takes: readonly (readonly Cause[])[]): CommonCause | null {
  if (takes.length < LEAST_TAKES) return null;
  const shared = new Map<string, { cause: Cause; takes: number; places: Map<string, Place> }>();
  for (const causes of takes)
    for (const cause of causes) {
      if (!SHOWABLE.has(cause.kind)) continue;
      const found = shared.get(cause.id) ?? { cause, takes: 0, places: new Map<string, Place>() };
      found.takes++;
      for (const place of cause.places) {
        const id = place.eventId ?? place.measure;
        found.places.set(id, { ...place, times: (found.places.get(id)?.times ?? 0) + 1 });
      }
      shared.set(cause.id, found);
    }
  const [most] = [...shared.values()]
    .filter((each) => each.takes >= LEAST_ALIKE)
    .sort((a, b) => b.takes - a.takes || b.places.size - a.places.size);
  if (!most) return null;
  const agreed = [...most.places.values()].filter(({ times }) => times >= LEAST_ALIKE);
  const places = (agreed.length > 0 ? agreed : [...most.places.values()]).map(
    ({ times: _times, ...place }) => place,
  );
  return { cause: { ...most.cause, places }, takes: most.takes, of: takes.length };
}

type Place = Cause["places"][number] & { times: number };

const SHOWABLE = new Set<Cause["kind"]>([
  "key-signature",
  "semitone",
  "other",
  "partial",
  "missed",
  "bars-left-out",
  "repeat-left-out",
  "rushing",
  "early",
  "short",
  "re-tongued-slur",
]);

/**
 * How a shared cause is shown in a rendering of the line.
 * @param score  the part it was found in
 * @returns null where this part has nothing to show it by
 */
export function faultOf({ kind, places, playedMidi }: Cause, score: Score): SectionFault | null {
  const eventIds = places.flatMap(({ eventId }) => eventId ?? []);
  switch (kind) {
    case "missed":
    case "bars-left-out":
    case "repeat-left-out":
      return eventIds.length > 0 ? { kind: "left-out", eventIds } : null;
    case "rushing":
    case "early":
      return { kind: "rushed-slur" };
    case "short":
      return { kind: "clipped-notes" };
    case "re-tongued-slur":
      return { kind: "re-tongued-slur" };
    default: {
      const written = timeline(score).notes.find(({ eventId }) => eventIds.includes(eventId));
      if (playedMidi === null || !written?.midi) return null;
      // Players of a section may read the line an octave apart.
      const away = Math.round(playedMidi) - written.midi;
      const semitones = away - 12 * Math.round(away / 12);
      return semitones === 0 ? null : { kind: "played-as", eventIds, semitones };
    }
  }
}
