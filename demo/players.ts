import type { Pcm } from "../src/core/audio";
import { fingeringFor, instrumentById, signatureAlter, spellMidi } from "../src/core/music";
import { seededRandom } from "../src/core/rhythm";
import { type Score, type SoundingNote, timeline } from "../src/core/score";
import { bell } from "./random";
import { type PlayedNote, type Room, synthesise } from "./synth";

/** What a beginner tends to do; shares are chances a note, 0 to 1, unless another unit is named. */
export interface Habits {
  /** Tempo against the one asked for: 0.8 is a fifth too slow. */
  tempo: number;
  /** Tempo at the end against the start, in percent. */
  driftPercent: number;
  tuningCents: number;
  /** Spread of each note's pitch, cents. */
  wander: number;
  /** Spread of attacks, seconds. */
  unsteady: number;
  /** Eighths come this much too soon, share of their length. */
  rush: number;
  /** Plays naturals for the flats or sharps of the key signature. */
  ignoresSignature: number;
  semitoneOff: number;
  /** Brass: lands on the neighbouring partial. */
  wrongPartial: number;
  misses: number;
  doubles: number;
  cracks: number;
  clips: number;
  /** Plays accents and staccato like plain notes. */
  ignoresSigns: boolean;
  /** Stops before this note, then goes on (index of the note). */
  hesitatesAt?: number;
  /** Breaks off after this note and starts again from the beginning of an earlier bar. */
  restartsAfter?: number;
  /** Puts the instrument down after this note. */
  stopsAfter?: number;
}

export const steadyHabits: Habits = {
  tempo: 1,
  driftPercent: 0,
  tuningCents: 0,
  wander: 4,
  unsteady: 0.012,
  rush: 0,
  ignoresSignature: 0,
  semitoneOff: 0,
  wrongPartial: 0,
  misses: 0,
  doubles: 0,
  cracks: 0,
  clips: 0,
  ignoresSigns: false,
};

export interface Performance {
  pcm: Pcm;
  /** What was meant and done, one entry a played note: the truth of the recording. */
  played: (PlayedNote & { index: number | null; mistake: string | null })[];
}

/**
 * Records one take of a part by a simulated player.
 * @param part   in written pitch with its transposition
 * @param bpm    the tempo asked for
 */
export function recordTake(
  part: Score,
  instrumentId: string,
  bpm: number,
  habits: Habits,
  room: Room,
  seed: number,
): Performance {
  const random = seededRandom(seed);
  const { notes } = timeline(part, { bpm: bpm * habits.tempo });
  const played = perform(notes, instrumentId, habits, random);
  const last = played.at(-1);
  const seconds = (last ? last.atSec + last.lengthSec : 1) + 0.9;
  return { pcm: synthesise(played, instrumentId, seconds, room, seed), played };
}

function perform(
  notes: readonly SoundingNote[],
  instrumentId: string,
  habits: Habits,
  random: () => number,
): Performance["played"] {
  const played: Performance["played"] = [];
  const chance = (share: number) => random() < share;
  const total = notes.at(-1)!.onsetSec || 1;
  let shift = 0.5 + 0.4 * random();
  const order = playingOrder(notes, habits);
  let previous: number | undefined;
  for (const index of order) {
    const note = notes[index]!;
    if (previous !== undefined && index !== previous + 1) {
      const broken = played.at(-1)!;
      shift = broken.atSec + broken.lengthSec + 0.7 + 0.5 * random() - warp(note.onsetSec, total, habits);
    } else if (index === habits.hesitatesAt && previous !== undefined) shift += 0.9 + 0.6 * random();
    previous = index;
    const eighth = note.durationQuarters < 1 && note.beat % 1 !== 0;
    const atSec = Math.max(
      0.05,
      shift +
        warp(note.onsetSec, total, habits) +
        habits.unsteady * bell(random) -
        (eighth ? habits.rush * note.durationSec : 0),
    );
    if (chance(habits.misses)) continue;
    const meant = note.midi;
    const { midi, mistake } =
      meant === null ? { midi: null, mistake: null } : choosePitch(note, instrumentId, habits, random);
    const full = warp(note.onsetSec + note.durationSec, total, habits) - warp(note.onsetSec, total, habits);
    const clipped = chance(habits.clips);
    const doubled = chance(habits.doubles) && note.durationQuarters >= 1;
    const signs = habits.ignoresSigns ? [] : (note.articulations ?? []);
    const sounds = signs.includes("staccato") ? 0.5 : 0.9;
    const lengthSec = full * (clipped ? 0.32 : sounds + 0.04 * random());
    const pitch = midi === null ? null : midi + (habits.tuningCents + habits.wander * bell(random)) / 100;
    const cracks = pitch !== null && !note.slurred && chance(habits.cracks);
    const base = {
      midi: pitch,
      loudness: (0.6 + 0.3 * random()) * (signs.includes("accent") ? 1.6 : 1),
      legato: note.slurred && played.length > 0,
      ...(cracks ? { crackMidi: pitch + (random() < 0.5 ? 5 : -4) } : {}),
    };
    if (doubled) {
      played.push({ ...base, index, mistake: "doubled", atSec, lengthSec: lengthSec * 0.42 });
      played.push({
        ...base,
        legato: false,
        index: null,
        mistake: "doubled",
        atSec: atSec + full * 0.5,
        lengthSec: lengthSec * 0.42,
      });
    } else
      played.push({
        ...base,
        index,
        mistake: mistake ?? (cracks ? "cracked" : clipped ? "clipped" : null),
        atSec,
        lengthSec,
      });
  }
  return closeGaps(played);
}

/** Breath runs on into a slurred note, and a note never sounds over the next. */
function closeGaps(played: Performance["played"]): Performance["played"] {
  played.sort((a, b) => a.atSec - b.atSec);
  return played.map((note, i) => {
    const next = played[i + 1];
    if (!next) return note;
    const room = next.atSec - note.atSec;
    return { ...note, lengthSec: next.legato ? room : Math.max(0.05, Math.min(note.lengthSec, room - 0.03)) };
  });
}

function playingOrder(notes: readonly SoundingNote[], habits: Habits): number[] {
  const upTo = habits.stopsAfter ?? notes.length - 1;
  const straight = notes.map((_, i) => i).slice(0, upTo + 1);
  if (habits.restartsAfter === undefined) return straight;
  const broken = Math.min(habits.restartsAfter, upTo);
  const bar = notes[broken]!.measureIndex;
  const again = notes.findIndex((note) => note.measureIndex === Math.max(0, bar - 1));
  return [...straight.slice(0, broken + 1), ...straight.slice(Math.max(0, again))];
}

function warp(sec: number, total: number, habits: Habits): number {
  return sec - (habits.driftPercent / 100) * ((sec * sec) / (2 * total));
}

function choosePitch(
  note: SoundingNote,
  instrumentId: string,
  habits: Habits,
  random: () => number,
): { midi: number; mistake: string | null } {
  const midi = note.midi!;
  const written = note.written!;
  const bySignature = signatureAlter(note.fifths, written.letter);
  if (bySignature !== 0 && written.alter === bySignature && random() < habits.ignoresSignature)
    return { midi: midi - bySignature, mistake: "key-signature" };
  if (random() < habits.semitoneOff) return { midi: midi + (random() < 0.5 ? 1 : -1), mistake: "semitone" };
  if (random() < habits.wrongPartial) {
    const instrument = instrumentById(instrumentId);
    const hand = fingeringFor(instrument, written)?.choices[0];
    const neighbours = [-7, -5, -4, -3, 3, 4, 5].filter((semitones) => {
      const other = fingeringFor(instrument, spellMidi(midi - instrument.soundsBy.semitones + semitones, 0));
      return (
        hand &&
        other?.choices.some(
          (choice) =>
            choice.kind === hand.kind &&
            JSON.stringify({ ...choice, partial: 0, cents: 0 }) ===
              JSON.stringify({ ...hand, partial: 0, cents: 0 }),
        )
      );
    });
    const leap = neighbours[Math.floor(random() * neighbours.length)];
    if (leap !== undefined) return { midi: midi + leap, mistake: "partial" };
  }
  return { midi, mistake: null };
}
