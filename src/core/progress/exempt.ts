import type { Assessment } from "../listen";
import { pitchToMidi } from "../music";
import type { Score } from "../score";

/**
 * An assessment without the notes that are not judged for this player: nothing is said of them, neither good nor bad. What
 * the engine measured of the take as a whole stays.
 * @param part  in written pitch, with the event ids of the assessment
 * @param exempt  written MIDI numbers
 */
export function withoutExempt(assessment: Assessment, part: Score, exempt: ReadonlySet<number>): Assessment {
  if (exempt.size === 0) return assessment;
  const spared = new Set(
    part.parts[0].measures.flatMap((measure) =>
      measure.events.flatMap((event) =>
        event.pitch && exempt.has(pitchToMidi(event.pitch)) ? [event.id] : [],
      ),
    ),
  );
  return { ...assessment, notes: assessment.notes.filter((note) => !spared.has(note.eventId)) };
}
