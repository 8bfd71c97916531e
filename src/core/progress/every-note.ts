import { fifthsOfInterval, type Instrument, type Pitch, spellMidi, writtenInterval } from "../music";
import type { Measure, Part, Score, ScoreEvent } from "../score";

/** Concert pitch classes from B♭ up, the order in which a band warms up on them. */
const FROM_B_FLAT = Array.from({ length: 12 }, (_, i) => (10 + i) % 12);

/**
 * "Play every note you know, up and back" for one player: half notes from the lowest to the highest known note and down
 * again, the last one held, in the player's own written pitch.
 * @param known  written MIDI numbers
 * @returns null where fewer than two notes are known
 */
export function everyNoteOf(instrument: Instrument, known: Iterable<number>): Score | null {
  const midis = [...known].sort((a, b) => a - b);
  if (midis.length < 2) return null;
  // Flats as the concert key of B♭ gives them to the instrument.
  const fifths = -2 + fifthsOfInterval(writtenInterval(instrument));
  const notes = upAndBack(midis.map((midi) => spellMidi(midi, fifths)));
  return {
    title: "Every note you know",
    parts: [partOf(instrument.name, instrument.clef, instrument.soundsBy, notes)],
  };
}

/**
 * The same for several players at once: the notes that all of them know, as concert pitch classes from B♭ upward, so that
 * everybody sounds together, each in the octave learned.
 * @param players  each with the written notes known
 * @returns a line in concert pitch; null where they share fewer than two notes
 */
export function everyNoteTogether(
  players: readonly { instrument: Instrument; known: ReadonlySet<number> }[],
): Score | null {
  const pitched = players.filter(({ instrument }) => instrument.ranges !== null && !instrument.drums);
  if (pitched.length === 0) return null;
  const shared = FROM_B_FLAT.filter((pitchClass) =>
    pitched.every(({ instrument, known }) =>
      [...known].some((midi) => (midi + instrument.soundsBy.semitones + 1200) % 12 === pitchClass),
    ),
  );
  if (shared.length < 2) return null;
  const notes = upAndBack(shared.map((pitchClass) => spellMidi(58 + ((pitchClass + 2) % 12), -2)));
  return {
    title: "Every note you know",
    parts: [partOf("Concert pitch", "treble", { letters: 0, semitones: 0 }, notes)],
  };
}

function upAndBack(up: readonly Pitch[]): Pitch[] {
  return [...up, ...[...up].reverse().slice(1)];
}

function partOf(name: string, clef: Part["clef"], soundsBy: Part["soundsBy"], notes: readonly Pitch[]): Part {
  const events = notes.map((pitch, i): ScoreEvent => {
    const last = i === notes.length - 1;
    // The last note fills its bar.
    const whole = last && i % 2 === 0;
    return {
      id: `n${i + 1}`,
      kind: "note",
      pitch,
      duration: whole ? "4" : "2",
      type: whole ? "whole" : "half",
      dots: 0,
      ...(last ? { fermata: true as const } : {}),
    };
  });
  const measures: Measure[] = [];
  for (let at = 0; at < events.length; at += 2)
    measures.push({
      id: `m${measures.length + 1}`,
      number: String(measures.length + 1),
      ...(at === 0
        ? {
            key: { fifths: 0, mode: "major" as const },
            time: { beats: 4, beatType: 4 },
            tempo: { beatQuarters: "1" as const, bpm: 72 },
          }
        : {}),
      events: events.slice(at, at + 2),
    });
  return { id: "P1", name, clef, soundsBy, measures };
}
