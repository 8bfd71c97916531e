import { midiToPitch, pitchToMidi } from "../music";
import type { Families } from "./block";
import {
  concertPitch,
  filled,
  folded,
  inWays,
  note,
  type Plain,
  quartersOf,
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

/** Twelve semitones (or twenty-four), sharps going up and flats coming down; who cannot play two octaves plays in the octave he has, and rests where he would have to leap. */
export function chromaticPlan(settings: Families["chromatic-scale"]): Plan {
  const start = pitchToMidi(concertPitch(settings.from));
  const value = quartersOf(settings.value);
  const up = Array.from({ length: 12 * settings.octaves + 1 }, (_, i) => i);
  const down = up.toReversed();
  const steps = { up, down, "up-and-down": [...up, ...down.slice(1)] }[settings.direction];
  const form = (reach: number): Plain[] => {
    const notes = folded(steps, reach, 12, 0).map(
      (step): Plain =>
        step === null ? { kind: "rest", duration: value } : note(midiToPitch(start + step), value),
    );
    return inWays(filled(notes), settings.tonguing, slurredByBars).flat();
  };
  return {
    segments: [{ fifths: "by-direction", forms: settings.octaves === 1 ? [form(12)] : [form(24), form(12)] }],
  };
}
