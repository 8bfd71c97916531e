import { type MidiEvent, writeMidi } from "midi-file";
import { describe, expect, it } from "vitest";
import { acceptScore, readMidi, timeline } from "../../src/core/score";

const TICKS = 96;

/** Quarter notes one after another on a channel. */
function track(name: string, channel: number, notes: number[]): MidiEvent[] {
  return [
    { deltaTime: 0, type: "trackName", text: name } as MidiEvent,
    ...notes.flatMap((noteNumber): MidiEvent[] => [
      { deltaTime: 0, type: "noteOn", channel, noteNumber, velocity: 80 } as MidiEvent,
      { deltaTime: TICKS, type: "noteOff", channel, noteNumber, velocity: 0 } as MidiEvent,
    ]),
    { deltaTime: 0, type: "endOfTrack" } as MidiEvent,
  ];
}

const file = (...tracks: MidiEvent[][]) =>
  new Uint8Array(
    writeMidi({ header: { format: 1, numTracks: tracks.length, ticksPerBeat: TICKS }, tracks } as never),
  );

describe("a MIDI file with several tracks", () => {
  it("gives each a part with its name, the fullest first and drums last", () => {
    const { score, notUnderstood } = readMidi(
      file(
        track("Kit", 9, Array(16).fill(36)),
        track("Bass line", 1, [46, 46]),
        track("Tune", 0, [70, 72, 74, 75]),
      ),
    );
    expect(() => acceptScore(score)).not.toThrow();
    expect(score.parts.map(({ name, clef }) => [name, clef])).toEqual([
      ["Tune", "treble"],
      ["Bass line", "treble"],
      ["Kit", "percussion"],
    ]);
    expect(timeline(score).notes.map((note) => note.midi)).toEqual([70, 72, 74, 75]);
    expect(notUnderstood).toEqual([]);
    const ids = score.parts.flatMap((part) =>
      part.measures.flatMap((measure) => measure.events.map(({ id }) => id)),
    );
    expect(new Set(ids).size).toBe(ids.length);
  });

  it("tells the channels of one track apart", () => {
    const both = [...track("All", 0, [70, 72]).slice(0, -1), ...track("All", 9, [36, 36]).slice(1)];
    const { score } = readMidi(file(both));
    expect(score.parts.map(({ name, clef }) => [name, clef])).toEqual([
      ["All, channel 1", "treble"],
      ["All, channel 10", "percussion"],
    ]);
  });

  it("says of which part something was left out", () => {
    const chord: MidiEvent[] = [
      { deltaTime: 0, type: "trackName", text: "Keys" } as MidiEvent,
      ...[60, 64, 67].map(
        (noteNumber) => ({ deltaTime: 0, type: "noteOn", channel: 2, noteNumber, velocity: 80 }) as MidiEvent,
      ),
      ...[60, 64, 67].map(
        (noteNumber, i) =>
          ({
            deltaTime: i === 0 ? TICKS : 0,
            type: "noteOff",
            channel: 2,
            noteNumber,
            velocity: 0,
          }) as MidiEvent,
      ),
      { deltaTime: 0, type: "endOfTrack" } as MidiEvent,
    ];
    const { notUnderstood } = readMidi(file(track("Tune", 0, [70, 72]), chord));
    expect(notUnderstood).toEqual(["Keys: 2 notes that sound together with a higher one"]);
  });
});
