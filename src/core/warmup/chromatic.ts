import { midiToPitch, type Pitch, pitchToMidi } from "../music";
import type { Families } from "./block";
import {
  concertPitch,
  evened,
  filled,
  inWays,
  note,
  type Plain,
  quartersOf,
  repeatNotes,
  slurred,
  slurredByBars,
} from "./notes";
import type { Plan } from "./segment";

/** From a note down one semitone and back, two and back ...: seven steps from concert F end on B♭ (common practice, no published source). */
export function descentPlan(settings: Families["chromatic-descent"]): Plan {
  const top = concertPitch(settings.from);
  const value = quartersOf(settings.value);
  const groups = Array.from({ length: settings.steps }, (_, i): Plain[] => {
    const low = midiToPitch(pitchToMidi(top) - i - 1);
    const three = filled([note(top, value), note(low, value), note(top, value)]);
    return inWays(three, settings.tonguing, slurred).flat();
  });
  return { segments: [{ fifths: "as-on-charts", forms: [groups.flat()] }] };
}

/** Twelve semitones (or twenty-four), sharps going up and flats coming down; who cannot play two octaves plays one twice. */
export function chromaticPlan(settings: Families["chromatic-scale"]): Plan {
  const start = concertPitch(settings.from);
  const value = quartersOf(settings.value);
  const over = (octaves: number): Plain[] => {
    const up: Pitch[] = Array.from({ length: 12 * octaves + 1 }, (_, i) =>
      midiToPitch(pitchToMidi(start) + i),
    );
    const down = up.toReversed();
    const line =
      settings.direction === "up" ? up : settings.direction === "down" ? down : [...up, ...down.slice(1)];
    return inWays(filled(line.map((pitch) => note(pitch, value))), settings.tonguing, slurredByBars).flat();
  };
  const one = over(1);
  if (settings.octaves === 1) return { segments: [{ fifths: "by-direction", forms: [one] }] };
  return { segments: [{ fifths: "by-direction", forms: evened([over(2), repeatNotes(one, 2)]) }] };
}
