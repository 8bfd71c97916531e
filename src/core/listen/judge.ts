import { type Instrument, instrumentById } from "../music";
import type { SoundingNote, Timeline } from "../score";
import { type Alignment, type Match, seamNear } from "./align";
import { type BeatPoint, type OwnBeat, ownBeat } from "./beat";
import { findBleed } from "./bleed";
import { afterSqueak, cracksOpen, flagsOf, isCrack, squeaks, squeaksBetween } from "./blemishes";
import { calibrated } from "./confidence";
import { extraNotes } from "./extras";
import type { Features } from "./features";
import type { Heard } from "./heard";
import { splitPasses } from "./passes";
import { octaveAway } from "./octave-evidence";
import { listenAgain, noteLevels } from "./second-listening";
import { continues, pitchFor, type Segment } from "./segments";
import { median, round } from "./statistics";
import { withoutStrangers } from "./strangers";
import { type Timing, timingsOf } from "./timing";
import type { Assessment, AssessOptions, NoteVerdict, TakeBreak } from "./types";
import { missedNote, placeOf } from "./verdict";
import { wrongKind } from "./wrong-kind";

/** Below this confidence a wrong note is given to the player. */
const BENEFIT_BELOW = 0.7;
/** A gap this much longer than the player's own beat asks for is a hesitation, seconds and beats. */
const HESITATION_SEC = 0.4;
const HESITATION_BEATS = 0.75;
/** Notes left out at the end before it counts as stopping early. */
const STOPPED_NOTES = 3;

/** Confidence of a note that the reference may have played alone. */
const DOUBTFUL = 0.3;

export interface Judgement {
  notes: NoteVerdict[];
  extras: Assessment["extras"];
  breaks: TakeBreak[];
  beat: OwnBeat;
  /** A reference of the same notes is loud enough to stand for missed ones. */
  bleed: boolean;
}

/**
 * Turns an alignment into verdicts a note, extra notes and breaks.
 * @param tuningCents  the take's own tuning; segments come with it already removed
 */
export function judge(
  line: Timeline,
  segments: readonly Segment[],
  alignment: Alignment,
  features: Features,
  tuningCents: number,
  options: AssessOptions,
): Judgement {
  const { notes } = line;
  const instrument = options.instrumentId ? instrumentById(options.instrumentId) : undefined;
  const passes = splitPasses(alignment.matches);
  const chosen = endInPlace(chooseMatches(passes, notes), notes, segments);
  const breaks: TakeBreak[] = restarts(passes, notes, segments);
  const heard = withoutStrangers(
    notes,
    hear(chosen, notes, segments, features, alignment.secPerQuarter, tuningCents),
    features,
  );
  breaks.push(...splitAtHesitations(heard, notes, usualPace(heard, notes), line.beatQuarters));

  const points: BeatPoint[] = [];
  const pointOf = new Map<number, number>();
  heard.forEach((each, i) => {
    if (!each || each.unbroken) return;
    pointOf.set(i, points.length);
    points.push({ quarters: notes[i]!.onsetQuarters, sec: each.onsetSec, run: each.run });
  });
  const beat = ownBeat(points, alignment.secPerQuarter);
  const timings = timingsOf(notes, heard, beat, pointOf, options.timingToleranceMs);
  const verdicts = notes.map((note, i) =>
    verdictOf(
      note,
      heard[i],
      heard[i + 1],
      heard[i - 1],
      beat,
      timings[i]!,
      tuningCents,
      options,
      instrument,
      endsPhrase(notes, i),
    ),
  );

  listenAgain(notes, verdicts, heard, beat, features, tuningCents / 100);
  for (const verdict of verdicts)
    verdict.confidence = round(calibrated(verdict.verdict, verdict.confidence), 3);
  const levels = noteLevels(verdicts, features);
  const bleed =
    tuningCents > -600 && tuningCents < 600
      ? findBleed(notes, verdicts, levels, features)
      : { loud: false, doubtful: new Set() };
  const usual = median(levels.filter((level) => level !== null));
  verdicts.forEach((verdict, i) => {
    verdict.levelDb = levels[i] == null ? null : round(levels[i] - usual, 1);
  });
  for (const verdict of verdicts) if (bleed.doubtful.has(verdict.index)) verdict.confidence = DOUBTFUL;

  const lastHeard = heard.findLastIndex(Boolean);
  if (lastHeard >= 0 && notes.length - 1 - lastHeard >= STOPPED_NOTES) {
    const end = heard[lastHeard]!.offsetSec;
    breaks.push({
      kind: "stopped-early",
      atSec: end,
      seconds: Math.max(0, features.durationSec - end),
      measure: notes[lastHeard + 1]!.measure,
    });
  }
  return {
    notes: verdicts,
    extras: extraNotes(alignment.matches, segments, heard, tuningCents),
    breaks: breaks.sort((a, b) => a.atSec - b.atSec),
    beat,
    bleed: bleed.loud,
  };
}

/** The best complete pass where there is one, else for every note the last pass that reached it. */
function chooseMatches(
  passes: readonly Match[][],
  notes: readonly SoundingNote[],
): (Match & { pass: number })[] {
  const complete = passes
    .map((pass, index) => ({ pass, index }))
    .filter(({ pass }) => pass.length >= 0.9 * notes.length);
  const best = complete.sort((a, b) => b.pass.length - a.pass.length || b.index - a.index)[0];
  const byNote = new Map<number, Match & { pass: number }>();
  // Who begins again does so at a bar line.
  const barStart = (note: number) => {
    let first = note;
    while (first > 0 && notes[first - 1]!.measure === notes[note]!.measure) first--;
    return first;
  };
  const take = (pass: readonly Match[], index: number) => {
    // What a later pass went over and left out was missed, also when an earlier one had it.
    for (let note = barStart(pass[0]!.note); note <= pass.at(-1)!.note; note++) byNote.delete(note);
    for (const match of pass) byNote.set(match.note, { ...match, pass: index });
  };
  passes.forEach(take);
  if (best) take(best.pass, best.index);
  return [...byNote.values()].sort((a, b) => a.note - b.note);
}

/** So few notes after a leap to the end may as well be the notes that come next. */
const LONGEST_LOOSE_END = 3;

/**
 * Who puts the instrument down early may end on the pitch of the last written note. Where the last heard notes lie behind notes
 * that were left out, and the notes that come next have the same pitches, they are those, if the time fits them better.
 */
function endInPlace(
  chosen: (Match & { pass: number })[],
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
): (Match & { pass: number })[] {
  const leap = chosen.findLastIndex((match, i) => i > 0 && match.note > chosen[i - 1]!.note + 1);
  const loose = chosen.length - leap;
  if (leap < 2 || loose > LONGEST_LOOSE_END) return chosen;
  const before = chosen[leap - 1]!;
  const first = chosen[leap]!;
  const next = before.note + 1;
  const moved = chosen.slice(leap).map((match, i) => ({ ...match, note: next + i, pass: before.pass }));
  if (moved.some(({ note }, i) => notes[note]!.midi !== notes[chosen[leap + i]!.note]!.midi)) return chosen;
  const onsetSec = (match: Match) => segments[match.segment]!.onsetSec;
  const quarters = (note: number) => notes[note]!.onsetQuarters - notes[before.note]!.onsetQuarters;
  const pace = median(
    chosen.slice(1, leap).map((match, i) => {
      const previous = chosen[i]!;
      const apart = notes[match.note]!.onsetQuarters - notes[previous.note]!.onsetQuarters;
      return (onsetSec(match) - onsetSec(previous)) / apart;
    }),
  );
  const sec = onsetSec(first) - onsetSec(before);
  const off = (note: number) => Math.abs(sec - pace * quarters(note));
  return off(next) < off(first.note) ? [...chosen.slice(0, leap), ...moved] : chosen;
}

/** Seconds a quarter from one heard note to the next, the middle one: a pause does not change it. */
function usualPace(heard: readonly (Heard | undefined)[], notes: readonly SoundingNote[]): number {
  const paces: number[] = [];
  heard.forEach((each, i) => {
    const previous = heard[i - 1];
    if (!each || !previous || each.unbroken || previous.run !== each.run) return;
    paces.push((each.onsetSec - previous.onsetSec) / (notes[i]!.onsetQuarters - notes[i - 1]!.onsetQuarters));
  });
  return median(paces);
}

function restarts(
  passes: readonly Match[][],
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
): TakeBreak[] {
  return passes.slice(1).flatMap((pass, i) => {
    const before = passes[i]!.at(-1)!;
    const first = pass[0]!;
    if (first.note > before.note) return [];
    const atSec = segments[first.segment]!.onsetSec;
    return [
      {
        kind: "restart" as const,
        atSec,
        seconds: Math.max(0, atSec - segments[before.segment]!.offsetSec),
        measure: notes[first.note]!.measure,
      },
    ];
  });
}

function hear(
  chosen: readonly (Match & { pass: number })[],
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
  features: Features,
  secPerQuarter: number,
  tuningCents: number,
): (Heard | undefined)[] {
  const heard: (Heard | undefined)[] = notes.map(() => undefined);
  const used = new Set(chosen.map((match) => match.segment));
  chosen.forEach((match, place) => {
    const segment = segments[match.segment]!;
    const before = chosen[place - 1];
    const own: Heard = {
      segment,
      segmentIndex: match.segment,
      ...soundingAs(notes[match.note]!, segment, features, tuningCents / 100),
      run: match.pass,
      onsetSec: segment.onsetSec,
      offsetSec: segment.offsetSec,
      unbroken: false,
      cracked: false,
      squeaked: false,
    };
    const crack = segments[match.segment - 1];
    if (crack && !used.has(match.segment - 1) && isCrack(crack, segment, segments[match.segment - 2])) {
      own.onsetSec = crack.onsetSec;
      own.cracked = true;
    }
    own.cracked ||= cracksOpen(features, segment, segments[match.segment - 1], tuningCents / 100);
    // A sound that wavers is heard in several stretches: the note lasts until the last one ends.
    for (let next = match.segment + 1; !used.has(next); next++) {
      const tail = segments[next];
      if (!used.has(next + 1) && squeaksBetween(segment, tail, segments[next + 1])) {
        own.squeaked = true;
        own.offsetSec = segments[++next]!.offsetSec;
        continue;
      }
      if (
        !tail ||
        (!continues(tail, segments[next - 1]) && !afterSqueak(features, tail, segment, own.offsetSec))
      )
        break;
      own.offsetSec = tail.offsetSec;
    }
    own.squeaked ||= squeaks(features, segment, own, tuningCents / 100);
    if (before && before.segment === match.segment) {
      const previous = heard[before.note]!;
      const apart = (notes[match.note]!.onsetQuarters - notes[before.note]!.onsetQuarters) * secPerQuarter;
      const expected = previous.onsetSec + apart;
      const attack = seamNear(segment, expected, apart);
      own.onsetSec = attack ?? expected;
      own.unbroken = attack === undefined;
      own.cracked = false;
      if (attack !== undefined) previous.offsetSec = attack;
    }
    heard[match.note] = own;
  });
  return heard;
}

/** Where a segment sounds that was heard as a note, the take's tuning taken off; null without a pitch. */
function soundingAs(
  { midi: written }: SoundingNote,
  segment: Segment,
  { sound, midi: track }: Features,
  tuning: number,
): Pick<Heard, "midi" | "clarity"> {
  const { midi, clarity } = segment;
  if (midi === null || written === null) return { midi, clarity };
  const heard = pitchFor(segment, written);
  // Bars have partials of their own.
  if (track.length === 0) return { midi: heard, clarity };
  const below = Math.abs(heard + 12 - written) < SAME_NAME && clarity < OCTAVE_CLEAR;
  if (!below && Math.abs(heard - written) > SAME_NAME) return { midi: heard, clarity };
  const asWritten = below ? heard + 12 : heard;
  const away = octaveAway(sound, asWritten + tuning, segment.onsetSec, segment.offsetSec);
  return { midi: asWritten + away, clarity: away === 0 ? clarity : 1 };
}
/** A sound is asked for its octave where it would otherwise be the written note, semitones. */
const SAME_NAME = 0.6;
/** Where its periods are clearer than this, they are believed when they say the octave below. */
const OCTAVE_CLEAR = 0.82;

/** Begins a new run after every hesitation, so that one pause does not make the notes around it late. */
function splitAtHesitations(
  heard: (Heard | undefined)[],
  notes: readonly SoundingNote[],
  secPerQuarter: number,
  beatQuarters: number,
): TakeBreak[] {
  const breaks: TakeBreak[] = [];
  let added = 0;
  let before = -1;
  heard.forEach((each, i) => {
    if (!each) return;
    const previous = heard[before];
    const passRun = each.run;
    if (previous && Math.floor(previous.run / 1000) === passRun) {
      const expected = (notes[i]!.onsetQuarters - notes[before]!.onsetQuarters) * secPerQuarter;
      const over = each.onsetSec - previous.onsetSec - expected;
      const relative = (each.onsetSec - previous.onsetSec) / expected;
      if (
        !each.unbroken &&
        !notes[before]!.fermata &&
        over > Math.max(HESITATION_SEC, HESITATION_BEATS * beatQuarters * secPerQuarter) &&
        relative > 1.45
      ) {
        added++;
        breaks.push({
          kind: "hesitation",
          atSec: previous.onsetSec + expected,
          seconds: over,
          measure: notes[i]!.measure,
        });
      }
    }
    each.run = passRun * 1000 + added;
    before = i;
  });
  return breaks;
}

function verdictOf(
  note: SoundingNote,
  heard: Heard | undefined,
  next: Heard | undefined,
  before: Heard | undefined,
  beat: OwnBeat,
  timing: Timing,
  tuningCents: number,
  options: AssessOptions,
  instrument: Instrument | undefined,
  ends: boolean,
): NoteVerdict {
  if (!heard || heard.unbroken) return missedNote(note, heard ? 0.6 : 0.9);
  const { segment } = heard;
  const tolerance = (options.pitchToleranceCents ?? 50) / 100;
  const sounding = heard.midi;
  const off = note.midi === null || sounding === null ? 0 : sounding - note.midi;
  const wrong = Math.abs(off) > tolerance;
  const seconds = heard.offsetSec - heard.onsetSec;
  const confidence = round(
    Math.max(
      0.05,
      Math.min(
        1,
        heard.clarity *
          (segment.spread > 0.35 ? 0.6 : 1) *
          Math.min(1, 0.55 + seconds * 3) *
          borderline(off, tolerance),
      ),
    ),
    2,
  );
  const isWrong = wrong && confidence >= BENEFIT_BELOW;

  const written = note.durationQuarters * beat.rateAt(note.onsetQuarters, heard.run);
  const until =
    next && next.segmentIndex > heard.segmentIndex && next.run === heard.run
      ? Math.min(heard.offsetSec, next.onsetSec)
      : heard.offsetSec;
  const lengthRatio =
    note.midi === null || note.fermata ? null : round((until - heard.onsetSec) / written, 2);
  const follows =
    before !== undefined && before.run === heard.run && before.segmentIndex < heard.segmentIndex;
  // Bars ring as long as they ring.
  const rings = instrument?.family === "mallets";
  const limits = lengthsOf(note, ends);
  const playedMidi = sounding === null ? null : round(sounding + tuningCents / 100, 3);
  return {
    ...placeOf(note),
    verdict: isWrong ? "wrong-pitch" : "ok",
    kind: isWrong ? wrongKind(note, off, instrument) : null,
    onset: round(heard.onsetSec, 3),
    offset: round(heard.offsetSec, 3),
    playedMidi,
    cents:
      playedMidi === null
        ? null
        : round(100 * (playedMidi - (isWrong || note.midi === null ? Math.round(playedMidi) : note.midi)), 1),
    ...timing,
    length:
      lengthRatio === null
        ? null
        : rings
          ? "ok"
          : lengthRatio < limits.least
            ? "short"
            : lengthRatio > limits.most
              ? "long"
              : "ok",
    lengthRatio,
    flags: flagsOf(note, heard, follows, instrument),
    levelDb: null,
    confidence,
  };
}

/** Shares of the written length between which a note is long enough and not too long. */
interface Lengths {
  least: number;
  most: number;
}

const PLAIN: Lengths = { least: 0.5, most: 1.5 };
/** About half the written length, with what a room adds (common practice, no published source). */
const SHORT: Lengths = { least: 0, most: 0.7 };
/** No gap but that of a light tongue; a room closes some of it. */
const SMOOTH: Lengths = { least: 0.8, most: 1.5 };
/** Held to the end of its value, not clipped, and not into the rest. */
const HELD: Lengths = { least: 0.8, most: 1.3 };

/** Whether a breath, a rest or nothing comes after a note. */
function endsPhrase(notes: readonly SoundingNote[], index: number): boolean {
  const [note, next] = [notes[index]!, notes[index + 1]];
  return note.breath || !next || next.onsetQuarters - note.onsetQuarters - note.durationQuarters > 0.01;
}

/** @param ends  a breath, a rest or nothing comes after it */
function lengthsOf({ style }: SoundingNote, ends: boolean): Lengths {
  if (style === "short") return SHORT;
  if (style === "smooth" && !ends) return SMOOTH;
  return style === "tapered" && ends ? HELD : PLAIN;
}

/** Near the edge of the tolerance a pitch verdict is worth less. */
function borderline(off: number, tolerance: number): number {
  const distance = Math.abs(Math.abs(off) - tolerance);
  return distance < 0.1 ? 0.4 + 6 * distance : 1;
}
