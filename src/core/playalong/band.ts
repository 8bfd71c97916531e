import { type Score, timeline } from "../score";
import { type PlayAlong, playAlong } from "./events";
import type { BandVoice } from "./mixer";

/** Voices of the band by the middle of where they play, sounding MIDI numbers; lower ones are the base and louder (common practice, no published source). */
const VOICES = [
  { sound: "flute", middle: 79, gain: 0.35 },
  { sound: "clarinet", middle: 67, gain: 0.45 },
  { sound: "trombone", middle: 55, gain: 0.6 },
  { sound: "tuba", middle: 43, gain: 0.7 },
] as const;

/**
 * The band that plays with a player: the other parts of the line where it has some, else the line itself in the octaves of
 * high, middle and low instruments. The player's own instrument is left to the player.
 *
 * @param score  the player's part, written for the instrument
 * @param companions  the other parts in concert pitch, the highest first
 */
export function bandVoices(
  score: Score,
  companions: readonly Score[],
  bpm: number,
  instrumentId: string,
): BandVoice[] {
  const own = VOICES.filter(({ sound }) => sound !== instrumentId);
  if (companions.length === 0) {
    const plan = playAlong(timeline(score, { bpm }));
    return own.map(({ sound, middle, gain }) => ({ sound, gain, plan: inOctave(plan, middle) }));
  }
  return companions.map((companion, i) => {
    // First part high, last part low, however many there are.
    const voice = own[Math.round((i * (own.length - 1)) / Math.max(1, companions.length - 1))]!;
    const plan = playAlong(timeline(companion, { bpm }));
    return { sound: voice.sound, gain: voice.gain, plan: inOctave(plan, voice.middle) };
  });
}

/** The same plan moved by octaves so that its middle lies nearest. */
function inOctave(plan: PlayAlong, middle: number): PlayAlong {
  const midis = plan.events.flatMap(({ midi }) => midi ?? []);
  const mean = midis.reduce((sum, midi) => sum + midi, 0) / Math.max(1, midis.length);
  const by = midis.length > 0 ? 12 * Math.round((middle - mean) / 12) : 0;
  return {
    ...plan,
    events: plan.events.map((event) =>
      event.midi === undefined ? event : { ...event, midi: event.midi + by },
    ),
  };
}
