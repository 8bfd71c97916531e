import { comfortableRange, midiToPitch, type Pitch, pitchToMidi, widestRange } from "../music";
import type { Families } from "./block";
import { degreePitch, note, type Plain, repeatNotes, rest } from "./notes";
import { inBars, type Laid, numbered, type Plan, type PlayerKind } from "./segment";

type LongTones = Families["long-tones"];

/**
 * Scale degrees held one after another. Brass rests as long as it plays; the others rest too, or hold the note once more
 * with a breath on the last count.
 */
export function longTonePlan(settings: LongTones, brass: boolean): Plan {
  const { fifths, degrees, countsOn, countsOff, others } = settings;
  const again = !brass && others === "again" && countsOff > 1;
  const notes = degrees.flatMap((degree): Plain[] => {
    const pitch = degreePitch(fifths, degree);
    const held = note(pitch, String(countsOn));
    if (!again) return [held, ...rest(countsOff)];
    // The breath is taken on the last count of either tone.
    return [note(pitch, String(countsOn - 1)), ...rest(1), note(pitch, String(countsOff - 1)), ...rest(1)];
  });
  return { segments: [{ fifths, forms: [repeatNotes(notes, settings.rounds)] }] };
}

/**
 * The highest (lowest) comfortable note of the player's stage, then one semitone further each, and back to it, in the names
 * of the charts. Who is at the end of the instrument's range rests; drums keep the count.
 */
export function rangeSteps(settings: Families["range-steps"], { instrument, stage }: PlayerKind): Laid {
  const comfortable = comfortableRange(instrument, stage);
  const steps = Array.from({ length: settings.steps + 1 }, (_, i) => i);
  const order = [...steps, 0];
  // A drum has no next semitone: it keeps the count, and so do timpani.
  if (!comfortable || instrument.drums) {
    const strokes = order.flatMap((): Plain[] => [
      ...Array.from({ length: settings.countsOn }, () => ({ duration: "1" })),
      ...rest(settings.countsOff),
    ]);
    return {
      measures: numbered(inBars(strokes, "s1", null)),
      clef: "percussion",
      soundsBy: { letters: 0, semitones: 0 },
      cutShort: null,
    };
  }
  const up = settings.direction === "up";
  const [low, high] = widestRange(instrument)!;
  const start = pitchToMidi(up ? comfortable.high : comfortable.low);
  const pitches = order.map((step): Pitch | null => {
    const midi = start + (up ? step : -step);
    return midi >= low && midi <= high ? midiToPitch(midi) : null;
  });
  const notes = pitches.flatMap((pitch): Plain[] =>
    pitch
      ? [note(pitch, String(settings.countsOn)), ...rest(settings.countsOff)]
      : rest(settings.countsOn + settings.countsOff),
  );
  const missing = pitches.filter((pitch) => pitch === null).length;
  return {
    measures: numbered(inBars(notes, "s1", 0)),
    clef: instrument.clef,
    soundsBy: instrument.soundsBy,
    cutShort: missing > 0 ? { kind: "beyond", missing, of: order.length, end: up ? "top" : "bottom" } : null,
  };
}
