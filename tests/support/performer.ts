import { bell } from "../../demo/random";
import type { Pcm } from "../../src/core/audio";
import { type Instrument, signatureAlter } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import { type Score, type SoundingNote, timeline } from "../../src/core/score";
import { type Bank, RATE } from "./sounds";

/** How somebody plays; shares are chances a note, 0 to 1. */
export interface Playing {
  seed: number;
  /** Tempo against the one asked for. */
  tempo: number;
  /** Standard deviation of the attacks around the beat, seconds. */
  unsteadySec: number;
  /** Tempo at the end against the start, percent, + is rushing. */
  driftPercent: number;
  /** Wrong notes of every kind the instrument allows, and notes left out. */
  wrong: number;
  missed: number;
  /** Single notes 110 to 180 ms early or late. */
  misplaced: number;
  /** Notes struck twice, each an extra. */
  doubled: number;
  /** Slurs: tongued again, broken by a breath. */
  reTongued: number;
  breaths: number;
  /** Lengths: cut to a third; held into the rest after it. */
  clipped: number;
  overlong: number;
  cracked: number;
  squeaks: number;
  /** Every note joined to the one before without an attack, unless it has the same pitch. */
  legato: boolean;
  /** Silence between tongued notes, seconds. */
  gapSec: number;
  tuningCents: number;
  vibratoCents: number;
  /** Slow wandering of the pitch, standard deviation in cents. */
  wanderCents: number;
  /** Notes begin so far below and slide up within 90 ms. */
  scoopCents: number;
  /** Level of each note wanders by so many dB. */
  unevenDb: number;
  /** Stops after so many notes and waits, begins again from an earlier bar, or ends. */
  pauseAfter?: number;
  restartAfter?: number;
  restartFrom?: number;
  stopAfter?: number;
  /** Notes an octave too high or too low beside the other wrong ones. */
  octaves?: number;
  /** Notes 14 dB softer than the rest. */
  softNotes?: number;
  /** Breath in the tone, dB against it; the attack speaks over so many seconds; a phrase fades by so many dB until the next breath. */
  breathDb?: number;
  speaksSec?: number;
  fadesDb?: number;
  /** What is made of signs: accented notes so many dB louder; staccato notes held for such a share of their length, and slower by such a share. */
  accentDb?: number;
  staccatoShare?: number;
  staccatoSlower?: number;
  /** Plays without the repeats, though they are written. */
  skipsRepeats?: boolean;
  leadSec: number;
}

export const CAREFUL: Playing = {
  seed: 1,
  tempo: 1,
  unsteadySec: 0.012,
  driftPercent: 0,
  wrong: 0,
  missed: 0,
  misplaced: 0,
  doubled: 0,
  reTongued: 0,
  breaths: 0,
  clipped: 0,
  overlong: 0,
  cracked: 0,
  squeaks: 0,
  legato: false,
  gapSec: 0.04,
  tuningCents: 0,
  vibratoCents: 0,
  wanderCents: 0,
  scoopCents: 0,
  unevenDb: 1,
  leadSec: 0.8,
};

type Kind = "key-signature" | "semitone" | "partial" | "octave" | "other";
export interface PlayedTruth {
  /** Place in the timeline. */
  index: number;
  /** Audible attack and end, seconds. */
  atSec: number;
  endSec: number;
  /** Sounding pitch with the take's tuning. */
  midi: number;
  wrong: Kind | null;
  /** Meant displacement against the own beat, ms; and how far off it is with what an unsteady hand adds. */
  placedMs: number;
  offBeatMs: number;
  length: "ok" | "short" | "long";
  flags: ("re-tongued-slur" | "breath-in-slur" | "cracked-attack" | "squeak")[];
  slurred: boolean;
}
export interface PlayedTake {
  pcm: Pcm;
  /** What was played of the pass that counts; a note that is not here was missed. */
  played: PlayedTruth[];
  extras: { atSec: number; midi: number }[];
  breaks: { kind: "hesitation" | "restart" | "stopped-early"; atSec: number }[];
  bpm: number;
}

/** Plays a part with single notes. Which mistakes fell where is the truth that the engine is held against. */
export function perform(
  part: Score,
  bank: Bank,
  askedBpm: number,
  instrument: Instrument,
  playing: Playing,
): PlayedTake {
  const random = seededRandom(playing.seed);
  const bpm = askedBpm * playing.tempo;
  const line = timeline(part, { bpm });
  const { notes, totalSec } = line;
  const samples = new Float32Array(Math.ceil((2.4 * totalSec + 14) * RATE));
  const sound: Sound = { samples, bank, random, playing, rings: instrument.family === "mallets" };
  const take: PlayedTake = { pcm: { samples, sampleRate: RATE }, played: [], extras: [], breaks: [], bpm };
  const warp = (sec: number) => {
    // Linear change of rate over the line, so that the middle keeps the tempo asked for.
    const d = playing.driftPercent / 100;
    const share = sec / totalSec;
    return sec * (1 + d / 2 - (d / 2) * share);
  };
  let end = 0;
  const passage = (from: number, to: number, startSec: number, counts: boolean, tell = true) => {
    let shift = startSec - warp(notes[from]?.onsetSec ?? 0);
    let before: Before | undefined;
    for (let place = from; place < to; place++) {
      const note = notes[place]!;
      if (counts && place === playing.pauseAfter) {
        const pause = 1.3 + random();
        take.breaks.push({ kind: "hesitation", atSec: shift + warp(note.onsetSec) });
        shift += pause;
        before = undefined;
      }
      if (random() < playing.missed && tell) {
        before = undefined;
        continue;
      }
      const next = notes[place + 1];
      const played = one(sound, line.notes, place, {
        atSec: shift + warp(note.onsetSec),
        untilSec: shift + warp(note.onsetSec + note.durationSec),
        restAfter: !next || next.onsetSec > note.onsetSec + note.durationSec + 0.05,
        before,
        instrument,
        mistakes: tell,
      });
      if (note.articulations?.includes("staccato")) shift += (playing.staccatoSlower ?? 0) * note.durationSec;
      end = Math.max(end, played.truth.endSec);
      before = { endSec: played.truth.endSec, midi: played.truth.midi, joint: played.joint };
      if (counts) take.played.push(played.truth);
      if (played.extra) take.extras.push(played.extra);
    }
    return shift;
  };
  const stop = playing.stopAfter ?? notes.length;
  if (playing.skipsRepeats) {
    const seen = new Set<string>();
    let shift = playing.leadSec;
    for (let place = 0; place < stop; ) {
      let to = place;
      while (to < stop && notes[to]!.pass === notes[place]!.pass) to++;
      const first = notes[place]!.eventId;
      if (!seen.has(first)) {
        passage(place, to, shift, true);
        shift += warp((notes[to]?.onsetSec ?? totalSec) - notes[place]!.onsetSec);
      }
      for (let i = place; i < to; i++) seen.add(notes[i]!.eventId);
      place = to;
    }
  } else if (playing.restartAfter) {
    const from = playing.restartFrom ?? 0;
    passage(0, playing.restartAfter, playing.leadSec, false, false);
    // What stands before the bar where the player begins again counts from the first time.
    take.extras.length = 0;
    const again = end + 0.9 + 0.6 * random();
    take.breaks.push({ kind: "restart", atSec: again });
    for (let place = 0; place < from; place++) take.played.push(sound.first![place]!);
    passage(from, stop, again, true);
  } else passage(0, stop, playing.leadSec, true);
  if (stop < notes.length) take.breaks.push({ kind: "stopped-early", atSec: end });
  take.pcm = { samples: samples.slice(0, Math.ceil((end + 1.2) * RATE)), sampleRate: RATE };
  return take;
}

interface Sound {
  samples: Float32Array;
  bank: Bank;
  random: () => number;
  playing: Playing;
  rings: boolean;
  /** Truths of the first pass, by place. */
  first?: PlayedTruth[];
}

const SOFT_DB = 14;
/** A beginner breathes about so often. */
const BREATH_EVERY_SEC = 3.5;

/** How a slurred note is joined to the one before. */
type Joint = "smooth" | "tongued" | "breath";
interface Before {
  endSec: number;
  midi: number;
  joint: Joint;
}

interface Place {
  atSec: number;
  untilSec: number;
  restAfter: boolean;
  before: Before | undefined;
  instrument: Instrument;
  mistakes: boolean;
}

function one(sound: Sound, notes: readonly SoundingNote[], index: number, place: Place) {
  const { random, playing, rings } = sound;
  const note = notes[index]!;
  const chance = (share: number) => place.mistakes && random() < share;
  const flags: PlayedTruth["flags"] = [];
  let atSec = place.atSec + playing.unsteadySec * bell(random);
  let placedMs = 0;
  if (place.before && chance(playing.misplaced)) {
    // Early by no more than leaves something of the note before.
    const by = (random() < 0.5 ? -1 : 1) * (0.11 + 0.07 * random());
    if (note.durationSec > 0.3) {
      placedMs = 1000 * by;
      atSec += by;
    }
  }
  const wrong = chance(playing.wrong)
    ? wrongNote(note, place.instrument, random)
    : playing.octaves && chance(playing.octaves)
      ? { kind: "octave" as const, midi: note.midi! + (random() < 0.6 ? 12 : -12) }
      : null;
  const target = (wrong?.midi ?? note.midi!) + playing.tuningCents / 100;
  const again = Boolean(place.before && Math.abs(place.before.midi - target) < 0.5);
  const joined = Boolean(place.before) && !again && !rings && (playing.legato || note.slurred);
  const broken = joined && note.slurred && place.before!.joint === "breath";
  const tongued = joined && note.slurred && place.before!.joint === "tongued";
  if (broken) {
    flags.push("breath-in-slur");
    atSec = Math.max(atSec, place.before!.endSec + 0.14);
  } else if (tongued) flags.push("re-tongued-slur");
  const smooth = joined && !broken && !tongued;
  let until = place.untilSec;
  let length: PlayedTruth["length"] = "ok";
  const written = until - place.atSec;
  const staccato = note.articulations?.includes("staccato") ?? false;
  if (staccato) {
    until = place.atSec + (playing.staccatoShare ?? 1) * written;
    if ((playing.staccatoShare ?? 1) > 0.75) length = "long";
  }
  const nextSlurred = notes[index + 1]?.slurred ?? false;
  if (chance(playing.clipped) && written > 0.3 && !nextSlurred && !rings) {
    until = atSec + 0.33 * written;
    length = "short";
  } else if (place.restAfter && chance(playing.overlong) && notes[index + 1] && !rings) {
    const room = notes[index + 1]!.onsetSec - note.onsetSec;
    if (room > 1.8 * note.durationSec) {
      until = place.atSec + 0.95 * room;
      length = "long";
    }
  }
  let joint: Joint = "smooth";
  if (nextSlurred && until - atSec > 0.4 && chance(playing.breaths)) joint = "breath";
  else if (nextSlurred && chance(playing.reTongued)) joint = "tongued";
  if (joint === "breath") until -= 0.18;
  else if (joint === "tongued") until -= Math.max(0.03, playing.gapSec);
  else if (length !== "short" && !nextSlurred && (!playing.legato || notes[index + 1]?.midi === note.midi))
    until -= playing.gapSec;
  until = Math.max(until, atSec + 0.09);
  if (!smooth && place.before && chance(playing.cracked) && !rings && written > 0.35) {
    flags.push("cracked-attack");
    mixIn(sound, target + (isBrass(place.instrument) ? 5 : 12), atSec, 0.07, {
      smooth: true,
      gainDb: -2,
      sliding: false,
    });
    mixIn(sound, target, atSec + 0.07, until - atSec - 0.07, { smooth: true, gainDb: 0, sliding: false });
  } else {
    const softer = playing.softNotes && chance(playing.softNotes) ? SOFT_DB : 0;
    const accented = note.articulations?.includes("accent") ? (playing.accentDb ?? 0) : 0;
    const tired = ((playing.fadesDb ?? 0) * (atSec % BREATH_EVERY_SEC)) / BREATH_EVERY_SEC;
    mixIn(sound, target, atSec, until - atSec, {
      smooth,
      gainDb: playing.unevenDb * bell(random) + accented - softer - tired,
      sliding: !smooth,
    });
  }
  let extra: { atSec: number; midi: number } | undefined;
  if (chance(playing.doubled) && place.restAfter === false && written > 0.55) {
    // The second stroke takes the second half of the note.
    const second = atSec + written / 2;
    silence(sound.samples, second - 0.05, until + 0.05);
    mixIn(sound, target, second, until - second, { smooth: false, gainDb: 0, sliding: false });
    extra = { atSec: second, midi: target };
    until = second - 0.05;
  }
  if (chance(playing.squeaks) && written > 0.45 && !rings) {
    const at = atSec + 0.45 * written;
    flags.push("squeak");
    silence(sound.samples, at, at + 0.09);
    mixIn(sound, target + 19, at, 0.09, { smooth: false, gainDb: 0, sliding: false });
  }
  const truth: PlayedTruth = {
    index,
    atSec,
    endSec: until,
    midi: target,
    wrong: wrong?.kind ?? null,
    placedMs,
    offBeatMs: 1000 * (atSec - place.atSec),
    length,
    flags,
    slurred: smooth,
  };
  (sound.first ??= [])[index] ??= truth;
  return { truth, extra, joint };
}

function wrongNote(
  note: SoundingNote,
  instrument: Instrument,
  random: () => number,
): { kind: Kind; midi: number } {
  const alter = note.written ? signatureAlter(note.fifths, note.written.letter) : 0;
  if (alter !== 0 && note.written!.alter === alter && random() < 0.6)
    return { kind: "key-signature", midi: note.midi! - alter };
  const roll = random();
  if (roll < 0.5) return { kind: "semitone", midi: note.midi! + (random() < 0.5 ? 1 : -1) };
  if (isBrass(instrument) && roll < 0.75)
    return { kind: "partial", midi: note.midi! + (random() < 0.5 ? 5 : -5) };
  if (roll < 0.65) return { kind: "octave", midi: note.midi! + (random() < 0.7 ? 12 : -12) };
  return { kind: "other", midi: note.midi! + (random() < 0.5 ? 2 : -2) };
}

function isBrass(instrument: Instrument): boolean {
  return instrument.family === "high brass" || instrument.family === "low brass";
}

function silence(samples: Float32Array, fromSec: number, toSec: number) {
  const fade = 0.01 * RATE;
  const from = Math.round(fromSec * RATE);
  const to = Math.min(samples.length, Math.round(toSec * RATE));
  for (let i = from; i < to; i++) samples[i]! *= Math.max(0, 1 - (i - from) / fade);
}

/** Adds one note so that its audible attack (or the middle of the crossfade, when joined) falls on the moment asked for. */
function mixIn(
  { samples: into, bank, random, playing, rings }: Sound,
  midi: number,
  atSec: number,
  lengthSec: number,
  { smooth, gainDb, sliding }: { smooth: boolean; gainDb: number; sliding: boolean },
) {
  const source = bank.reduce((best, each) =>
    Math.abs(each.midi - midi) < Math.abs(best.midi - midi) ? each : best,
  );
  const speed = 2 ** ((midi - source.midi) / 12);
  const gain = (0.12 / source.rms) * 10 ** (gainDb / 20);
  const fade = Math.round((rings ? 0.1 : 0.03) * RATE);
  const cross = Math.round(0.03 * RATE);
  const lead = smooth ? cross / 2 / RATE : source.attackSec / speed;
  const from = Math.round((atSec - lead) * RATE);
  const length = rings ? RATE * 1.4 : Math.round((lengthSec + lead) * RATE);
  let place = smooth ? (source.attackSec + 0.15) * RATE : 0;
  let wander = 0;
  let [breath, rough] = [0, 0];
  const { breathDb, speaksSec = 0 } = playing;
  // Noise from a generator of its own, so that everything else is played as without it.
  const air = breathDb === undefined ? null : seededRandom(Math.round(1000 * atSec) + 3);
  const breathGain = breathDb === undefined ? 0 : 0.12 * 10 ** ((gainDb + breathDb) / 20);
  const phase = 6 * random();
  for (let i = 0; i < length + fade && from + i < into.length; i++) {
    const below = Math.floor(place);
    if (below + 1 >= source.samples.length) break;
    if (from + i >= 0) {
      const value =
        source.samples[below]! + (source.samples[below + 1]! - source.samples[below]!) * (place - below);
      const rise = smooth ? Math.min(1, i / cross) : 1;
      const speaks = speaksSec > 0 && !smooth ? Math.min(1, 0.1 + (0.9 * i) / RATE / speaksSec) : 1;
      const shape = rise * (i < length ? 1 : 1 - (i - length) / fade);
      if (air) {
        // Band-limited: the difference of two smoothed noises.
        const white = 2 * air() - 1;
        breath += 0.35 * (white - breath);
        rough += 0.06 * (white - rough);
        into[from + i]! += 2.4 * breathGain * shape * (breath - rough);
      }
      into[from + i]! += gain * speaks * shape * value;
    }
    if (i % 64 === 0) wander = 0.997 * wander + playing.wanderCents * 0.077 * bell(random);
    const sec = i / RATE - lead;
    let cents = wander;
    if (playing.vibratoCents > 0 && sec > 0.25)
      cents += playing.vibratoCents * Math.sin(2 * Math.PI * 5.2 * sec + phase);
    if (sliding && playing.scoopCents > 0 && sec < 0.09)
      cents -= playing.scoopCents * (1 - Math.max(0, sec) / 0.09);
    place += cents === 0 ? speed : speed * (1 + cents * 5.7778e-4);
  }
}
