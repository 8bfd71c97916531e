// Bakes the play-along sounds in public/sounds from a General MIDI sound font: single notes with their loops, levelled,
// one FLAC a sound and one table. Run once, by hand, when a sound is added:
//   npm install --no-save spessasynth_core && node tools/bake-sounds.mjs FONT.sf3
// The sounds shipped come from the font FluidR3Mono (MIT; see public/sounds/NOTICE.md). Needs ffmpeg.
import { execFileSync } from "node:child_process";
import { mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";

const RATE = 32000;
const OUT = "public/sounds";
/** Struck sounds are cut after so many seconds, with a fade. */
const LONGEST_SEC = 2.5;
const FADE_SEC = 0.4;
/** Level every sound is brought to over its loop, or its first 0.3 s: RMS, full scale. */
const LEVEL = 0.1;
const QUIET = ["-y", "-loglevel", "error"];

/** Samples whose own pitches lie closer than so many semitones are left out: their neighbour serves. */
const SPACING = 3;
/** Struck sounds that the font loops: seconds in which they fall by 60 dB. */
const DECAY_SEC = { bells: 2.5, vibraphone: 4, "string-bass": 3.5, "bass-guitar": 5, triangle: 2 };

/** Sound: General MIDI program and the sounding notes it is played on; null for a drum kit's single keys. */
const TONES = {
  flute: [73, 58, 91],
  piccolo: [72, 70, 96],
  oboe: [68, 58, 86],
  bassoon: [70, 34, 64],
  clarinet: [71, 36, 82],
  "sax-soprano": [64, 56, 84],
  "sax-alto": [65, 46, 76],
  "sax-tenor": [66, 42, 72],
  "sax-bari": [67, 34, 64],
  trumpet: [56, 52, 80],
  horn: [60, 40, 76],
  trombone: [57, 34, 70],
  tuba: [58, 24, 60],
  "string-bass": [32, 26, 58],
  "bass-guitar": [33, 26, 58],
  bells: [9, 76, 108],
  xylophone: [13, 62, 96],
  vibraphone: [11, 53, 89],
  marimba: [12, 46, 84],
  timpani: [47, 36, 60],
};
const STROKES = { snare: 38, "bass-drum": 36, clap: 39, "wood-high": 76, "wood-low": 77, triangle: 81 };

/** Generator numbers of the SoundFont 2.04 specification, section 8.1.2. */
const TYPES = { coarseTune: 51, fineTune: 52, sampleModes: 54, overridingRootKey: 58, attenuation: 48 };

const { BasicSoundBank, SoundBankLoader } = await import("spessasynth_core");
await BasicSoundBank.isSF3DecoderReady;
const font = readFileSync(process.argv[2] ?? fail("Name the sound font."));
const bank = SoundBankLoader.fromArrayBuffer(
  font.buffer.slice(font.byteOffset, font.byteOffset + font.byteLength),
);
mkdirSync(OUT, { recursive: true });
const table = {};
for (const [id, [program, low, high]] of Object.entries(TONES)) {
  const preset = bank.presets.find(
    (each) => each.program === program && each.bankMSB === 0 && !each.isGMGSDrum,
  );
  write(id, cover(preset, low, high));
}
const kit = bank.presets.find((each) => each.isGMGSDrum && each.program === 0);
for (const [id, key] of Object.entries(STROKES)) write(id, cover(kit, key, key));
writeFileSync(`${OUT}/sounds.json`, `${JSON.stringify(table, null, 1)}\n`);

/** The samples that serve a span of keys at a middling velocity, each once. */
function cover(preset, low, high) {
  const samples = [];
  for (let key = low; key <= high; key++) {
    const found = zoneFor(preset, key);
    const last = samples.at(-1);
    if (last && (found.sample === last.sample || Math.abs(found.root - last.root) < SPACING)) last.to = key;
    else samples.push({ ...found, from: key, to: key });
  }
  return samples;
}

function zoneFor(preset, key) {
  const inside = (range, value) => !range || range.min < 0 || (value >= range.min && value <= range.max);
  const fits = (zone) => inside(zone.keyRange, key) && inside(zone.velRange, 90);
  const layers = preset.zones.filter(fits).flatMap((outer) => {
    const { instrument } = outer;
    return instrument.zones.filter(fits).map((zone) => {
      const value = (name, otherwise) =>
        [zone, instrument.globalZone]
          .flatMap((each) => each?.generators ?? [])
          .find((generator) => generator.type === TYPES[name])?.value ?? otherwise;
      const added = (name) =>
        [outer, preset.globalZone]
          .flatMap((each) => each?.generators ?? [])
          .find((g) => g.type === TYPES[name])?.value ?? 0;
      const override = value("overridingRootKey", -1);
      const root =
        (override >= 0 ? override : zone.sample.originalKey) -
        value("coarseTune", 0) -
        added("coarseTune") -
        (value("fineTune", 0) + added("fineTune") + zone.sample.pitchCorrection) / 100;
      return {
        sample: zone.sample,
        root,
        looped: value("sampleModes", 0) % 2 === 1,
        quiet: value("attenuation", 0),
      };
    });
  });
  if (layers.length === 0) fail(`${preset.name} has no sample for key ${key}`);
  return layers.sort((a, b) => a.quiet - b.quiet)[0];
}

function write(id, samples) {
  const pieces = [];
  const entries = [];
  let at = 0;
  for (const { sample, root, looped, from, to } of samples) {
    const ratio = RATE / sample.sampleRate;
    const whole = resampled(sample.getAudioData(), sample.sampleRate);
    // A loop keeps its exact length: rounded to samples a short one would be out of tune.
    const loop = looped ? [sample.loopStart * ratio, sample.loopEnd * ratio] : null;
    const sound = loop
      ? whole.slice(0, Math.ceil(loop[1]) + 8)
      : faded(whole.slice(0, Math.round(LONGEST_SEC * RATE)));
    const measured = loop
      ? sound.subarray(Math.floor(loop[0]), Math.ceil(loop[1]))
      : sound.subarray(0, Math.round(0.3 * RATE));
    const level = Math.sqrt(measured.reduce((sum, each) => sum + each * each, 0) / measured.length);
    const peak = sound.reduce((most, each) => Math.max(most, Math.abs(each)), 0);
    const gain = Math.min(LEVEL / level, 0.98 / peak);
    pieces.push(sound.map((each) => each * gain));
    entries.push({
      from,
      to,
      root: thousandths(root),
      start: at,
      end: at + sound.length,
      loop: loop && [thousandths(at + loop[0]), thousandths(at + loop[1])],
    });
    at += sound.length;
  }
  writeFileSync(`${OUT}/raw`, pcm16(pieces.flatMap((piece) => [...piece])));
  execFileSync("ffmpeg", [
    ...QUIET,
    ...raw(RATE),
    "-i",
    `${OUT}/raw`,
    "-compression_level",
    "12",
    `${OUT}/${id}.flac`,
  ]);
  rmSync(`${OUT}/raw`);
  table[id] = { rate: RATE, ...(DECAY_SEC[id] ? { decaySec: DECAY_SEC[id] } : {}), samples: entries };
}

function thousandths(number) {
  return Math.round(1000 * number) / 1000;
}

function pcm16(samples) {
  return new Uint8Array(Int16Array.from(samples, (each) => Math.round(32767 * each)).buffer);
}

function raw(rate) {
  return ["-f", "s16le", "-ar", String(rate), "-ac", "1"];
}

function resampled(sound, rate) {
  if (rate === RATE) return Float32Array.from(sound);
  const bytes = execFileSync(
    "ffmpeg",
    [...QUIET, ...raw(rate), "-i", "pipe:0", "-f", "f32le", "-ar", String(RATE), "pipe:1"],
    { input: pcm16(sound), maxBuffer: 1e8 },
  );
  return new Float32Array(
    bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + 4 * Math.floor(bytes.length / 4)),
  );
}

function faded(sound) {
  const fade = Math.min(sound.length, Math.round(FADE_SEC * RATE));
  return sound.map((each, i) => each * Math.min(1, (sound.length - i) / fade));
}

function fail(sentence) {
  console.error(sentence);
  process.exit(2);
}
