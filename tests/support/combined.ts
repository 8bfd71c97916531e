import type { Pcm } from "../../src/core/audio";
import { seededRandom } from "../../src/core/rhythm";
import { noisy, phoneLine, reverberant, type Scene, spoken, throughCodec, withNeighbour } from "./conditions";
import type { Playing } from "./performer";
import { RATE, rootMeanSquare } from "./sounds";

type Random = () => number;
const pick = <T>(random: Random, from: readonly T[]): T => from[Math.floor(random() * from.length)]!;

/** Traits a beginner has; a take has several at once. */
export const TRAITS: Record<string, (random: Random) => Partial<Playing>> = {
  "unsteady tempo": (random) => ({
    driftPercent: random() < 0.5 ? -10 : 10,
    tempo: 0.68 + 0.6 * random(),
    unsteadySec: 0.022,
    misplaced: 0.05,
  }),
  "rough joints": () => ({
    reTongued: 0.2,
    breaths: 0.15,
    clipped: 0.06,
    overlong: 0.2,
    doubled: 0.03,
    cracked: 0.05,
  }),
  "wavering tone": (random) => ({
    vibratoCents: random() < 0.3 ? 20 : 0,
    wanderCents: 10 + 22 * random(),
    scoopCents: random() < 0.5 ? 60 : 0,
    tuningCents: random() < 0.5 ? 28 : -28,
    squeaks: 0.02,
  }),
  "a beginner's tone": (random) => ({
    breathDb: -16 + 8 * random(),
    speaksSec: 0.05 + 0.08 * random(),
    fadesDb: 7 * random(),
    unevenDb: 2.5,
    softNotes: 0.04,
  }),
  "wrong octaves": () => ({ octaves: 0.05 }),
  "no tongue": () => ({ legato: true, gapSec: 0.02 }),
};

/** What a bar that is struck can do of it: it has no breath, no tongue and a pitch of its own. */
const OF_BARS = ["unsteady tempo", "wrong octaves"];

/** A moment between the takes' notes: a pause, a new beginning, or an early end; none for half of them. */
export function breakOf(random: Random, notes: number): Partial<Playing> {
  const roll = random();
  const at = Math.floor(notes * (0.4 + 0.4 * random()));
  if (roll < 0.16) return { pauseAfter: at };
  if (roll < 0.33) return { restartAfter: at, restartFrom: 0 };
  return roll < 0.5 ? { stopAfter: at } : {};
}

/** Where it is played, what is heard beside it, what it is recorded with: one of each, all at once. */
export const ROOMS: Record<string, (pcm: Pcm, seed: number) => Pcm> = {
  "no room": (pcm) => pcm,
  "a small room": (pcm, seed) => reverberant(pcm, 0.35, 0.7, seed),
  "a hall": (pcm, seed) => reverberant(pcm, 0.7, 0.5, seed),
  "a tiled room": (pcm, seed) => reverberant(pcm, 1.1, 0.75, seed),
};
export const SURROUNDINGS: Record<string, (pcm: Pcm, scene: Scene) => Pcm> = {
  quiet: (pcm) => pcm,
  "noise 15 dB below": (pcm, { seed }) => noisy(pcm, 15, seed),
  "television behind": (pcm, { seed }) => withTelevision(pcm, seed),
  "wind outdoors": (pcm, { seed }) => withWind(pcm, seed),
  "somebody practising": withNeighbour,
};
export const DEVICES: Record<string, (pcm: Pcm) => Pcm | Promise<Pcm>> = {
  plain: (pcm) => pcm,
  "a phone line": phoneLine,
  "Opus 24 kb/s": (pcm) => throughCodec(pcm, "ogg"),
  "automatic gain": pumped,
};

/** Traits, place and device of a take, by its seed. */
export function combination(seed: number, bars = false) {
  const random = seededRandom(7717 * seed + 5);
  const traits = Object.keys(TRAITS).filter((trait) => random() < 0.4 && (!bars || OF_BARS.includes(trait)));
  return {
    traits,
    room: pick(random, Object.keys(ROOMS)),
    around: pick(random, Object.keys(SURROUNDINGS)),
    device: pick(random, Object.keys(DEVICES)),
    random,
  };
}

/** The take as it reaches the bench. */
export async function heardIn(
  scene: Scene,
  { room, around, device }: Pick<ReturnType<typeof combination>, "room" | "around" | "device">,
): Promise<Pcm> {
  const inRoom = ROOMS[room]!(scene.take.pcm, scene.seed);
  return DEVICES[device]!(SURROUNDINGS[around]!(inRoom, scene));
}

const PROGRAMME = [
  "And now the weather for the coming days. It stays mild and rather cloudy along the coast, with some rain in the evening.",
  "Welcome back. Our next guest has sailed around the island in a boat that she built herself. Tell us how it began.",
];

/** Two voices from the next room, low-passed by the wall, 18 dB below. */
function withTelevision(pcm: Pcm, seed: number): Pcm {
  const words = spoken(PROGRAMME[seed % PROGRAMME.length]!, seed % 2 ? "en+f3" : "en+m2");
  const out = Float32Array.from(pcm.samples);
  const gain = (rootMeanSquare(pcm.samples) / rootMeanSquare(words)) * 10 ** (-18 / 20);
  const a = Math.exp((-2 * Math.PI * 1500) / RATE);
  let low = 0;
  for (let i = 0; i < out.length; i++) {
    low = (1 - a) * words[i % words.length]! + a * low;
    out[i]! += gain * 1.6 * low;
  }
  return { ...pcm, samples: out };
}

/** Gusts: noise below 200 Hz that comes and goes, now and then as loud as the playing. */
function withWind(pcm: Pcm, seed: number): Pcm {
  const random = seededRandom(31 + seed);
  const out = Float32Array.from(pcm.samples);
  const level = rootMeanSquare(pcm.samples);
  let [low, lower, gust] = [0, 0, 0.2];
  for (let i = 0; i < out.length; i++) {
    if (i % 4410 === 0) gust = Math.max(0.05, Math.min(1, gust + 0.25 * (random() - 0.5)));
    low += 0.028 * (2 * random() - 1 - low);
    lower += 0.028 * (low - lower);
    out[i]! += 14 * level * gust * lower;
  }
  return { ...pcm, samples: out };
}

/** A recorder that turns soft moments up and loud ones down within a third of a second. */
export function pumped(pcm: Pcm): Pcm {
  const out = new Float32Array(pcm.samples.length);
  const target = 0.1;
  const [up, down] = [1 / (0.35 * pcm.sampleRate), 1 / (0.02 * pcm.sampleRate)];
  let level = target;
  for (let i = 0; i < out.length; i++) {
    const loud = Math.abs(pcm.samples[i]!);
    level += (loud > level ? down : up) * (loud - level);
    out[i] = Math.max(-1, Math.min(1, (pcm.samples[i]! * target) / Math.max(0.012, level)));
  }
  return { ...pcm, samples: out };
}
