import { midiToHz } from "../music";

/** One recorded note of a sound: samples `start` to `end` of its PCM; held notes go round in `loop`, whose ends may be fractional. */
export interface SoundSample {
  /** Sounding MIDI notes it serves. */
  from: number;
  to: number;
  /** The note it was recorded at, with fraction. */
  root: number;
  start: number;
  end: number;
  loop: [number, number] | null;
}

/** A sound as its table describes it. */
export interface SoundTable {
  rate: number;
  /** A looped sound that dies away: seconds in which it falls by 60 dB. */
  decaySec?: number;
  samples: SoundSample[];
}

export interface Sound extends SoundTable {
  pcm: Float32Array;
}

/** Sounds by id. */
export type Bank = ReadonlyMap<string, Sound>;

/** What plays an instrument: recorded sounds with their share. A euphonium has no recording and is made of two neighbours. */
const VOICINGS: Record<string, readonly [sound: string, share: number][]> = {
  "clarinet-eb": [["clarinet", 1]],
  "clarinet-alto": [["clarinet", 1]],
  "clarinet-bass": [["clarinet", 1]],
  flugelhorn: [
    ["trumpet", 0.5],
    ["horn", 0.6],
  ],
  euphonium: [
    ["trombone", 0.45],
    ["horn", 0.65],
  ],
  "euphonium-treble": [
    ["trombone", 0.45],
    ["horn", 0.65],
  ],
  accessories: [["triangle", 1]],
  clap: [["clap", 1]],
  concert: [["plain", 1]],
};

/** Sounds and shares that play an instrument, "clap" or "concert"; its own sound where nothing else is said. */
export function voicingOf(id: string): readonly (readonly [sound: string, share: number])[] {
  return VOICINGS[id] ?? [[id, 1]];
}

/** Ids of the recorded sounds that an instrument and the click need. */
export function soundsFor(ids: readonly string[]): string[] {
  return [
    ...new Set(
      [...ids.flatMap((id) => voicingOf(id).map(([sound]) => sound)), "wood-high", "wood-low"].filter(
        (id) => id !== "plain",
      ),
    ),
  ];
}

const PLAIN_RATE = 32000;
/** Harmonics of the plain tone by loudness: plain enough to tune to, rich enough for small speakers. */
const PLAIN_HARMONICS = [1, 0.45, 0.22, 0.1, 0.05];

/**
 * Sounds that need no file: a plain tone, knocks and a clap. They play where recorded ones are not wanted or cannot be had.
 */
export function plainSounds(): Map<string, Sound> {
  const knock = (hz: number) =>
    struck(
      (t) =>
        (Math.sin(2 * Math.PI * hz * t) + 0.6 * Math.sin(2 * Math.PI * 1.58 * hz * t)) * Math.exp(-t * 60),
    );
  return new Map([
    ["plain", plainTone()],
    ["wood-high", knock(1500)],
    ["wood-low", knock(1000)],
    ["clap", knock(640)],
    ["snare", knock(320)],
  ]);
}

/** Loops of whole periods, one for every third semitone, so that none is stretched far. */
function plainTone(): Sound {
  const pieces: Float32Array[] = [];
  const samples: SoundSample[] = [];
  let at = 0;
  for (let root = 23; root <= 110; root += 3) {
    const hz = midiToHz(root);
    const periods = Math.max(4, Math.round(hz * 0.02));
    const loopLength = (periods * PLAIN_RATE) / hz;
    const pcm = Float32Array.from({ length: Math.ceil(loopLength) + 8 }, (_, i) =>
      PLAIN_HARMONICS.reduce(
        (sum, loud, k) =>
          hz * (k + 1) < PLAIN_RATE * 0.45
            ? sum + 0.16 * loud * Math.sin((2 * Math.PI * hz * (k + 1) * i) / PLAIN_RATE)
            : sum,
        0,
      ),
    );
    samples.push({
      from: root === 23 ? 0 : root - 1,
      to: root === 110 ? 127 : root + 1,
      root,
      start: at,
      end: at + pcm.length,
      loop: [at, at + loopLength],
    });
    pieces.push(pcm);
    at += pcm.length;
  }
  const whole = new Float32Array(at);
  for (const [i, { start }] of samples.entries()) whole.set(pieces[i]!, start);
  return { rate: PLAIN_RATE, samples, pcm: whole };
}

function struck(shape: (sec: number) => number): Sound {
  const pcm = Float32Array.from(
    { length: Math.round(0.15 * PLAIN_RATE) },
    (_, i) => 0.4 * shape(i / PLAIN_RATE),
  );
  return {
    rate: PLAIN_RATE,
    samples: [{ from: 0, to: 127, root: 60, start: 0, end: pcm.length, loop: null }],
    pcm,
  };
}
