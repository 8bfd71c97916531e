import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { writeMidi } from "midi-file";
import { PitchDetector } from "pitchy";
import { mixToMono, type Pcm, readWav } from "../../src/core/audio";
import { parsePitch, pitchToMidi } from "../../src/core/music";

// Single notes to put performances together from: recorded ones of the registry packages tonejs-instrument-*-mp3 (samples
// CC-BY 3.0), each file named by its sounding pitch, and General MIDI ones rendered by FluidSynth from a sound font of
// Debian's. The truth of an attack is the audible attack of the single note, measured on it, never the MIDI time.
const require = createRequire(import.meta.url);
export const RATE = 44_100;

/** Files that sound another pitch than their name says (found with the pitch library pitchy). */
const MISNAMED = new Set(["trumpet As3.mp3", "trumpet C3.mp3", "clarinet Fs6.mp3"]);

export interface SingleNote {
  /** Its sounding pitch, as a general-purpose pitch library hears it; near the named one. */
  midi: number;
  samples: Float32Array;
  /** Audible attack: the first 5 ms within 20 dB of the attack's loudest, seconds. */
  attackSec: number;
  /** Loudness of the first half second, RMS. */
  rms: number;
}
export type Bank = SingleNote[];

function folderOf(name: string): string {
  return dirname(require.resolve(`tonejs-instrument-${name}-mp3/package.json`));
}

/** One recorded note as it is on file, such as "As3.mp3". */
export async function decodeNote(name: string, file: string): Promise<Pcm> {
  const { MPEGDecoder } = await import("mpg123-decoder");
  const decoder = new MPEGDecoder();
  await decoder.ready;
  const { channelData, sampleRate } = decoder.decode(readFileSync(join(folderOf(name), file)));
  decoder.free();
  return { samples: mixToMono(channelData), sampleRate };
}

/** Recorded notes of one instrument. */
export async function loadBank(name: string): Promise<Bank> {
  const bank: Bank = [];
  for (const file of readdirSync(folderOf(name)).filter((each) => each.endsWith(".mp3"))) {
    if (MISNAMED.has(`${name} ${file}`)) continue;
    const { samples } = await decodeNote(name, file);
    bank.push(singleNote(pitchToMidi(parsePitch(file.replace(".mp3", "").replace("s", "#"))), samples));
  }
  return bank.sort((a, b) => a.midi - b.midi);
}

export const SOUND_FONTS = {
  small: "/usr/share/sounds/sf2/TimGM6mb.sf2",
  large: "/usr/share/sounds/sf3/FluidR3Mono_GM.sf3",
};
const HELD_SEC = 5;
const SLOT_SEC = 6.5;

/**
 * Notes of a General MIDI sound, one a semitone.
 * @param program  0 to 127; `drums` plays channel 10, where each number is another instrument
 * @throws Error when FluidSynth or the sound font is not installed
 */
export function renderBank(
  font: keyof typeof SOUND_FONTS,
  program: number,
  [lowest, highest]: readonly [number, number],
  drums = false,
): Bank {
  if (!existsSync(SOUND_FONTS[font])) throw new Error(`The sound font ${SOUND_FONTS[font]} is not installed`);
  const channel = drums ? 9 : 0;
  const ticks = (sec: number) => Math.round(sec * 1000);
  const events: object[] = drums
    ? []
    : [{ deltaTime: 0, type: "programChange", channel, programNumber: program }];
  for (let midi = lowest; midi <= highest; midi++) {
    events.push({
      deltaTime: midi === lowest ? 0 : ticks(SLOT_SEC - HELD_SEC),
      type: "noteOn",
      channel,
      noteNumber: midi,
      velocity: 92,
    });
    events.push({ deltaTime: ticks(HELD_SEC), type: "noteOff", channel, noteNumber: midi, velocity: 0 });
  }
  events.push({ deltaTime: ticks(SLOT_SEC - HELD_SEC), type: "endOfTrack", meta: true });
  const folder = mkdtempSync(join(tmpdir(), "ulu-bank-"));
  try {
    // 500 ticks a quarter at half a second a quarter: a tick is a millisecond.
    const file = { header: { format: 0, numTracks: 1, ticksPerBeat: 500 }, tracks: [events] };
    writeFileSync(join(folder, "notes.mid"), Uint8Array.from(writeMidi(file as never)));
    execFileSync(
      "fluidsynth",
      [
        "-niq",
        "-R",
        "0",
        "-C",
        "0",
        "-g",
        "0.6",
        "-r",
        String(RATE),
        "-F",
        join(folder, "notes.wav"),
        SOUND_FONTS[font],
        join(folder, "notes.mid"),
      ],
      { stdio: "ignore" },
    );
    const { samples } = readWav(readFileSync(join(folder, "notes.wav")));
    const bank: Bank = [];
    for (let midi = lowest; midi <= highest; midi++) {
      const from = Math.round((midi - lowest) * SLOT_SEC * RATE);
      const note = samples.slice(from, from + Math.round(HELD_SEC * RATE));
      if (rootMeanSquare(note.subarray(0, RATE)) > 1e-4) bank.push(singleNote(midi, note));
    }
    return bank;
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** Half a second and a bit from the middle of the sound is heard; struck bars, too inharmonic for it, keep their name. */
function soundingPitch(named: number, samples: Float32Array, attackSec: number): number {
  const size = 8192;
  const detector = PitchDetector.forFloat32Array(size);
  const heard: number[] = [];
  for (let at = attackSec + 0.2; at < attackSec + 1.2; at += 0.05) {
    const from = Math.round(at * RATE);
    if (from + size > samples.length) break;
    const [hz, clarity] = detector.findPitch(samples.subarray(from, from + size), RATE);
    const midi = 69 + 12 * Math.log2(hz / 440);
    const octaves = Math.round((midi - named) / 12);
    if (clarity > 0.8 && Math.abs(midi - named - 12 * octaves) < 0.5) heard.push(midi - 12 * octaves);
  }
  heard.sort((a, b) => a - b);
  return heard[Math.floor(heard.length / 2)] ?? named;
}

function singleNote(named: number, samples: Float32Array): SingleNote {
  const attackSec = audibleAttack(samples, RATE);
  const from = Math.round(attackSec * RATE);
  const midi = soundingPitch(named, samples, attackSec);
  return { midi, samples, attackSec, rms: rootMeanSquare(samples.subarray(from, from + RATE / 2)) };
}

/** The attack by the contract's own words: the first 5 ms within 20 dB of the loudest of the first quarter second. */
export function audibleAttack(samples: Float32Array, rate: number): number {
  const frame = Math.round(0.005 * rate);
  const levels = Array.from({ length: Math.min(120, Math.floor(samples.length / frame)) }, (_, f) =>
    rootMeanSquare(samples.subarray(f * frame, (f + 1) * frame)),
  );
  const loudest = Math.max(...levels.slice(0, 50));
  return levels.findIndex((level) => level > loudest / 10) * 0.005;
}

export function rootMeanSquare(samples: Float32Array): number {
  let sum = 0;
  for (const sample of samples) sum += sample * sample;
  return Math.sqrt(sum / Math.max(1, samples.length)) + 1e-9;
}
