import type { PlayAlong, PlayAlongEvent } from "./events";
import { type Bank, type Sound, type SoundSample, voicingOf } from "./sounds";

/** What is heard of a play-along. */
export interface Mix {
  count: boolean;
  click: boolean;
  reference: boolean;
  /** The other instruments of the band; with the reference when left out. */
  band?: boolean;
  /** What plays the reference: an instrument's id, "clap", or "concert" for a plain tone (when left out). */
  sound?: string;
}

/** Another line that sounds beside the plan's own: an instrument of the band. */
export interface BandVoice {
  sound: string;
  plan: PlayAlong;
  /** 1 is as loud as the reference. */
  gain: number;
}

/** A spoken reminder, or any recording, at a moment of the plan. */
export interface Spoken {
  atSec: number;
  pcm: Float32Array;
  rate: number;
}

export interface MixerSettings {
  mix: Mix;
  bank: Bank;
  sampleRate: number;
  band?: readonly BandVoice[];
  spoken?: readonly Spoken[];
  /** Comes back to this second of the plan at its end, without a gap, for ever. */
  loopFromSec?: number;
  /** 1 is the plan's own tempo, 0.5 half of it. */
  speed?: number;
}

/** Plays a plan into one block of samples after another; every event begins on its exact sample. */
export interface Mixer {
  /** Fills the block with the next samples. */
  render(block: Float32Array): void;
  /** From the next sample on. */
  setMix(mix: Mix): void;
  /** From the next sample on; what sounds goes on sounding and ends when its beat does. */
  setSpeed(speed: number): void;
  /** Second of the plan that the next sample belongs to; inside the loop while it goes round. */
  planSec(): number;
  /** Everything has sounded. */
  done(): boolean;
  /** The state as it is, to go back to. */
  save(): MixerState;
  restore(state: MixerState): void;
}

interface Voice {
  sound: Sound;
  sample: SoundSample;
  track: Track;
  /** Place in the sound's PCM. */
  at: number;
  step: number;
  gain: number;
  /** Samples until it begins, 0 once it has. */
  wait: number;
  age: number;
  attack: number;
  /** Unrolled second at which it is let go; a struck sound rings out. */
  offSec: number;
  /** Share that is left after a sample of decay. */
  decay: number;
  level: number;
  /** Swing of the pitch as a share of the step, and radians a sample. */
  swing: number;
  swingStep: number;
  shape: PlayAlongEvent["shape"];
  /** What a dulled tone keeps of the sample before. */
  low: number;
}

type Track = "count" | "click" | "reference" | "band" | "spoken";

/** Opaque to callers. */
export interface MixerState {
  frame: number;
  anchorFrame: number;
  anchorSec: number;
  speed: number;
  next: number;
  round: number;
  voices: Voice[];
  gains: Record<Track, number>;
  mix: Mix;
}

interface Timed {
  sec: number;
  track: Track;
  sound: string;
  midi: number;
  holdSec: number;
  slurred: boolean;
  waver?: PlayAlongEvent["waver"];
  shape?: PlayAlongEvent["shape"];
  share: number;
  spoken?: Sound;
}

const ATTACK_SEC = 0.006;
/** A slurred note grows out of the one before. */
const SLUR_SEC = 0.03;
const RELEASE_SEC = 0.07;
/** A change of the mix fades over this time, so that it makes no click. */
const FADE_SEC = 0.015;
const COUNT_GAIN = 0.8;
const CLICK_GAIN = 0.5;
const SUBDIVISION_GAIN = 0.18;
const REFERENCE_GAIN = 0.9;
/** Notes beside accented ones: those stay as loud as the reference ever is, and stand out by 4 dB. */
const BESIDE_ACCENTS = 0.63;

/**
 * A mixer for one plan. Event n of round k of a loop begins on frame round((sec + k * loop - anchorSec) / speed * rate) +
 * anchorFrame, worked out anew each time: nothing adds up, so nothing drifts.
 *
 * @throws RangeError for a loop that ends before it begins or a speed outside 0.25 to 4
 */
export function makeMixer(plan: PlayAlong, settings: MixerSettings): Mixer {
  const { bank, sampleRate, loopFromSec } = settings;
  const events = timed(plan, settings);
  const loopSec = loopFromSec === undefined ? 0 : plan.totalSec - loopFromSec;
  if (loopFromSec !== undefined && !(loopSec > 0.05)) throw new RangeError("A loop has some length");
  const looped = loopFromSec === undefined ? 0 : events.findIndex((event) => event.sec >= loopFromSec - 1e-9);
  let state: MixerState = {
    frame: 0,
    anchorFrame: 0,
    anchorSec: 0,
    speed: checkedSpeed(settings.speed ?? 1),
    next: 0,
    round: 0,
    voices: [],
    gains: gainsOf(settings.mix),
    mix: settings.mix,
  };

  const unrolledSec = (event: Timed) => event.sec + state.round * loopSec;
  const frameOf = (sec: number) =>
    state.anchorFrame + Math.round(((sec - state.anchorSec) / state.speed) * sampleRate);
  const nowSec = () => state.anchorSec + ((state.frame - state.anchorFrame) / sampleRate) * state.speed;

  const begin = (event: Timed, wait: number) => {
    const start = unrolledSec(event);
    for (const voice of voicesOf(event, bank, sampleRate))
      state.voices.push({ ...voice, wait, offSec: start + event.holdSec });
  };

  const beginDue = (until: number) => {
    for (;;) {
      if (state.next >= events.length) {
        if (loopSec === 0 || looped < 0) return;
        state.next = looped;
        state.round++;
      }
      const event = events[state.next]!;
      if (loopSec > 0 && event.sec >= plan.totalSec - 1e-9) {
        state.next = events.length;
        continue;
      }
      const frame = frameOf(unrolledSec(event));
      if (frame >= until) return;
      begin(event, Math.max(0, frame - state.frame));
      state.next++;
    }
  };

  return {
    render(block) {
      block.fill(0);
      beginDue(state.frame + block.length);
      const wanted = gainsOf(state.mix);
      for (const voice of state.voices)
        play(
          voice,
          block,
          state.gains[voice.track],
          wanted[voice.track],
          frameOf(voice.offSec) - state.frame,
          sampleRate,
        );
      const faded = Math.min(1, block.length / (FADE_SEC * sampleRate));
      for (const track of Object.keys(wanted) as Track[])
        state.gains[track] += faded * (wanted[track] - state.gains[track]);
      state.voices = state.voices.filter((voice) => voice.level > 1e-4);
      state.frame += block.length;
    },
    setMix(mix) {
      state.mix = mix;
    },
    setSpeed(speed) {
      const sec = nowSec();
      state = { ...state, anchorSec: sec, anchorFrame: state.frame, speed: checkedSpeed(speed) };
    },
    planSec() {
      const sec = nowSec();
      if (loopSec === 0 || sec < plan.totalSec) return Math.min(sec, plan.totalSec);
      return loopFromSec! + ((sec - loopFromSec!) % loopSec);
    },
    done: () =>
      loopSec === 0 && state.next >= events.length && state.voices.length === 0 && nowSec() >= plan.totalSec,
    save: () => ({
      ...state,
      voices: state.voices.map((voice) => ({ ...voice })),
      gains: { ...state.gains },
    }),
    restore(saved) {
      state = { ...saved, voices: saved.voices.map((voice) => ({ ...voice })), gains: { ...saved.gains } };
    },
  };
}

/** A whole plan as mono PCM, with half a second to ring out. */
export function renderPlan(
  plan: PlayAlong,
  settings: Omit<MixerSettings, "loopFromSec">,
): Float32Array<ArrayBuffer> {
  const speed = settings.speed ?? 1;
  const samples = new Float32Array(Math.ceil((plan.totalSec / speed + 0.5) * settings.sampleRate));
  const mixer = makeMixer(plan, settings);
  for (let at = 0; at < samples.length; at += BLOCK) mixer.render(samples.subarray(at, at + BLOCK));
  return samples;
}

const BLOCK = 2048;

function checkedSpeed(speed: number): number {
  if (!(speed >= 0.25 && speed <= 4))
    throw new RangeError("A play-along goes at a quarter to four times its tempo");
  return speed;
}

function gainsOf(mix: Mix): Record<Track, number> {
  return {
    count: mix.count ? 1 : 0,
    click: mix.click ? 1 : 0,
    reference: mix.reference ? 1 : 0,
    band: (mix.band ?? mix.reference) ? 1 : 0,
    spoken: 1,
  };
}

/** Everything that makes a sound, in order. */
function timed(plan: PlayAlong, { mix, band = [], spoken = [] }: MixerSettings): Timed[] {
  const own = plan.events.flatMap((event) => ofEvent(event, mix.sound ?? "concert", "reference", 1));
  const others = band.flatMap((voice) =>
    voice.plan.events
      .filter((event) => event.kind === "note")
      .flatMap((event) => ofEvent(event, voice.sound, "band", voice.gain)),
  );
  const words = spoken.map(
    ({ atSec, pcm, rate }): Timed => ({
      sec: atSec,
      track: "spoken",
      sound: "",
      midi: 60,
      holdSec: pcm.length / rate,
      slurred: false,
      share: 1,
      spoken: { rate, pcm, samples: [{ from: 0, to: 127, root: 60, start: 0, end: pcm.length, loop: null }] },
    }),
  );
  return [...own, ...others, ...words].sort((a, b) => a.sec - b.sec);
}

function ofEvent(event: PlayAlongEvent, sound: string, notes: Track, gain: number): Timed[] {
  if (event.kind === "cue" || event.silent) return [];
  const about = {
    sec: event.atSec,
    slurred: event.slurred ?? false,
    ...(event.waver ? { waver: event.waver } : {}),
    ...(event.shape ? { shape: event.shape } : {}),
  };
  if (event.kind === "note" || event.kind === "start") {
    // The starting note sounds whatever else is muted.
    const track = event.kind === "start" ? "spoken" : notes;
    const length = event.durationSec ?? 0.1;
    const struck = event.midi === undefined;
    return voicingOf(struck && sound === "concert" ? "clap" : sound).map(([id, share]) => ({
      ...about,
      track,
      sound: id,
      midi: event.midi ?? UNPITCHED,
      // A tongued note leaves a breath of silence before the next.
      holdSec: event.slursOn ? length : length - Math.min(0.06, 0.12 * length),
      share: share * gain * (event.beside ? BESIDE_ACCENTS : 1) * REFERENCE_GAIN,
    }));
  }
  const loud = event.kind === "count" ? COUNT_GAIN : event.kind === "click" ? CLICK_GAIN : SUBDIVISION_GAIN;
  return [
    {
      ...about,
      track: event.kind === "count" ? "count" : "click",
      sound: event.accent ? "wood-high" : "wood-low",
      midi: UNPITCHED,
      holdSec: 0.2,
      share: loud * (event.accent ? 1 : 0.8),
    },
  ];
}

/** An unpitched sound plays as it was recorded. */
const UNPITCHED = -1;

function voicesOf(event: Timed, bank: Bank, sampleRate: number): Voice[] {
  const sound =
    event.spoken ?? bank.get(event.sound) ?? bank.get(event.midi === UNPITCHED ? "wood-low" : "plain");
  if (!sound) return [];
  const sample = sampleFor(sound, event.midi);
  const transposed = event.midi === UNPITCHED || event.spoken ? 1 : 2 ** ((event.midi - sample.root) / 12);
  const slurred = event.slurred && sample.loop !== null && !sound.decaySec;
  return [
    {
      sound,
      sample,
      track: event.track,
      at: slurred ? sample.loop![0] : sample.start,
      step: (transposed * sound.rate) / sampleRate,
      gain: event.share,
      wait: 0,
      age: 0,
      attack: Math.max(1, Math.round((slurred ? SLUR_SEC : event.spoken ? 0.001 : ATTACK_SEC) * sampleRate)),
      offSec: 0,
      decay: sound.decaySec ? 10 ** (-3 / (sound.decaySec * sampleRate)) : 1,
      level: 1,
      // A share is small enough to stand for cents: 2^(c/1200) is nearly 1 + c ln 2 / 1200.
      swing: ((event.waver?.cents ?? 0) * Math.LN2) / 1200,
      swingStep: (2 * Math.PI * (event.waver?.hz ?? 0)) / sampleRate,
      shape: event.shape,
      low: 0,
    },
  ];
}

/** The sample recorded nearest to a note. */
function sampleFor(sound: Sound, midi: number): SoundSample {
  const serving = sound.samples.find((sample) => midi >= sample.from && midi <= sample.to);
  if (serving) return serving;
  return midi < sound.samples[0]!.from ? sound.samples[0]! : sound.samples.at(-1)!;
}

/** Softest and loudest of a tone that swells, how dull one becomes, and the push of a note that is tongued off. */
const SWELL = { from: 0.5, to: 1.35 };
const DULLEST = 0.06;
const PUSH = { sec: 0.07, gain: 2 };

/** A sample of a note that changes on its way. @param left  frames until it is let go */
function shapedValue(voice: Voice, value: number, age: number, left: number, sampleRate: number): number {
  const way = left > 0 ? age / (age + left) : 1;
  switch (voice.shape) {
    case "swells":
      return value * (SWELL.from + (SWELL.to - SWELL.from) * Math.sin(Math.PI * way));
    case "darkens":
      // One pole, closed further and further.
      voice.low += (1 - (1 - DULLEST) * way) * (value - voice.low);
      return voice.low;
    case "pushed-off":
      return left > 0 && left < PUSH.sec * sampleRate ? value * PUSH.gain : value;
    default:
      return value;
  }
}

/**
 * Adds a voice to a block.
 * @param off  frame of the block at which the voice is let go; may lie before or after it
 */
function play(
  voice: Voice,
  block: Float32Array,
  gainFrom: number,
  gainTo: number,
  off: number,
  sampleRate: number,
): void {
  const { pcm } = voice.sound;
  const { loop, end } = voice.sample;
  const held = loop !== null && voice.decay === 1;
  // A struck sound that was let go rings on softly; a held one stops.
  const release = 10 ** (-3 / ((held ? RELEASE_SEC : 6 * RELEASE_SEC) * sampleRate));
  const loopLength = loop ? loop[1] - loop[0] : 0;
  const last = end - 2;
  let { at, level, age } = voice;
  for (let i = voice.wait; i < block.length; i++) {
    if (loop) {
      if (at >= loop[1]) at -= loopLength;
    } else if (at >= last) {
      level = 0;
      break;
    }
    const below = Math.floor(at);
    const x = at - below;
    const a = pcm[below - 1] ?? 0;
    const b = pcm[below]!;
    const c = pcm[below + 1] ?? 0;
    const d = pcm[below + 2] ?? 0;
    // Cubic through four samples (Catmull and Rom).
    const value = b + 0.5 * x * (c - a + x * (2 * a - 5 * b + 4 * c - d + x * (3 * (b - c) + d - a)));
    const rising = age < voice.attack ? age / voice.attack : 1;
    const track = gainFrom === gainTo ? gainTo : gainFrom + ((gainTo - gainFrom) * i) / block.length;
    const shaped = voice.shape ? shapedValue(voice, value, age, off - i, sampleRate) : value;
    block[i]! += shaped * voice.gain * level * rising * track;
    at += voice.swing === 0 ? voice.step : voice.step * (1 + voice.swing * Math.sin(age * voice.swingStep));
    age++;
    level *= voice.decay;
    if (i >= off) level *= release;
    if (level <= 1e-4) break;
  }
  voice.wait = Math.max(0, voice.wait - block.length);
  voice.at = at;
  voice.age = age;
  voice.level = level;
}
