import { type FingeringOptions, fingeringFor, fingeringText } from "./fingerings";
import { type Instrument, type Stage, stageRange, writtenFor, writtenInterval } from "./instruments";
import { fifthsOfInterval, keyName, keyTonic } from "./key";
import { chooseOctave } from "./octave";
import { octavesUp, type Pitch, pitchName, pitchToMidi, transposePitch } from "./pitch";

/** What one instrument plays when the director calls a concert key. */
export interface KeyRow {
  instrumentId: string;
  name: string;
  /** Its own key, "C major"; "no key" for drums. */
  key: string;
  /** The scale up from the tonic, written names without octave; empty for instruments without pitch. */
  scale: string[];
  /** The tonic in the octave where the stage plays it, with its fingering in words. */
  first: { name: string; pitch: Pitch; fingering: string } | null;
}

/** Letters above the tonic and semitones from it, of a major scale and its octave. */
const MAJOR = [0, 2, 4, 5, 7, 9, 11, 12];
const MINOR = [0, 2, 3, 5, 7, 8, 10, 12];

/**
 * The chart on the band-room wall: one concert key, every instrument's own key, scale and first note.
 *
 * @param fifths  of the concert key, -7 to 7; minor keys are natural minor
 * @example
 * // Concert E♭ is F for the clarinet and C for the alto sax (common practice, no published source).
 * [instrumentById("clarinet"), instrumentById("sax-alto")].map((each) => keyRow(each, "small-tunes", -3, "major").key) // => ["F major", "C major"]
 */
export function keyRow(
  instrument: Instrument,
  stage: Stage,
  fifths: number,
  mode: "major" | "minor",
  options: FingeringOptions = {},
): KeyRow {
  const about = { instrumentId: instrument.id, name: instrument.name };
  const range = stageRange(instrument, stage);
  if (!range) return { ...about, key: "no key", scale: [], first: null };
  const tonic: Pitch = { ...keyTonic(fifths, mode), octave: 4 };
  let own = fifths + fifthsOfInterval(writtenInterval(instrument));
  // Beyond six signs the enharmonic key is read, as in parts.
  own = own > 6 ? own - 12 : own < -6 ? own + 12 : own;
  const writtenTonic: Pitch = {
    ...keyTonic(own, mode),
    octave: nearOctave(writtenFor(instrument, tonic), keyTonic(own, mode)),
  };
  const scale = (mode === "major" ? MAJOR : MINOR).map((semitones, letters) =>
    transposePitch(writtenTonic, { letters, semitones }),
  );
  const octave = chooseOctave(scale.slice(0, 5).map(pitchToMidi), { instrument, stage });
  const pitch = transposePitch(writtenTonic, octavesUp(octave));
  const chosen = fingeringFor(instrument, pitch, options)?.choices[0];
  return {
    ...about,
    key: keyName(own, mode),
    scale: scale.map((each) => pitchName(each, false)),
    first: { name: pitchName(pitch), pitch, fingering: chosen ? fingeringText(chosen) : "" },
  };
}

/** The octave in which an enharmonic spelling sounds the same. */
function nearOctave(plain: Pitch, spelled: Pick<Pitch, "letter" | "alter">): number {
  const wanted = pitchToMidi(plain);
  return [plain.octave - 1, plain.octave, plain.octave + 1].find(
    (octave) => pitchToMidi({ ...spelled, octave }) === wanted,
  )!;
}
