import {
  type Fingering,
  fingeringFor,
  type Instrument,
  instrumentById,
  signatureAlter,
  spellMidi,
} from "../music";
import type { SoundingNote, Timeline } from "../score";
import { type Alignment, type Match, seamNear } from "./align";
import { type BeatPoint, type OwnBeat, ownBeat } from "./beat";
import { findBleed } from "./bleed";
import { calibrated } from "./confidence";
import type { Features } from "./features";
import { RIVAL_SEMITONES } from "./pitch";
import { continues, pitchFor, type Segment } from "./segments";
import { median } from "./statistics";
import type { Assessment, AssessOptions, NoteFlag, NoteVerdict, TakeBreak } from "./types";
import { missedNote, placeOf } from "./verdict";

/** Below this confidence a wrong note is given to the player. */
const BENEFIT_BELOW = 0.45;
/** A gap this much longer than the player's own beat asks for is a hesitation, seconds and beats. */
const HESITATION_SEC = 0.4;
const HESITATION_BEATS = 0.75;
/** Shorter than this, a sound beside a note of its pitch is that note's edge. */
const EDGE_SEC = 0.16;
/** What makes a sound an extra note: it lasts, it has a clear pitch, it was begun. */
const EXTRA = { least: 0.09, clarity: 0.8, dipDb: 6 };
/** A wrong start shorter than this, with no gap, is a cracked attack and not a note of its own. */
const CRACK_SEC = 0.13;
const RETONGUE_DB = 8;
const BREATH_SEC = 0.12;
/** Notes left out at the end before it counts as stopping early. */
const STOPPED_NOTES = 3;
/** Fewer matched notes in a row say nothing about which piece it is. */
const SHORTEST_PASS = 4;

/** Confidence of a note that the reference may have played alone. */
const DOUBTFUL = 0.3;
/** A pass that matches so much of the line is the line. */
const WHOLE_LINE = 0.7;

export interface Judgement {
  notes: NoteVerdict[];
  extras: Assessment["extras"];
  breaks: TakeBreak[];
  beat: OwnBeat;
  /** A reference of the same notes is loud enough to stand for missed ones. */
  bleed: boolean;
  /** Share of what was played that the line explains, 0 to 1: how much this is the same piece. */
  fit: number;
}

/** A note of the line with what was heard for it. */
interface Heard {
  segment: Segment;
  segmentIndex: number;
  run: number;
  onsetSec: number;
  offsetSec: number;
  /** Second of two notes in one unbroken segment, with no sign of a new attack. */
  unbroken: boolean;
  cracked: boolean;
  squeaked: boolean;
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
  const chosen = chooseMatches(passes, notes);
  const breaks: TakeBreak[] = restarts(passes, notes, segments);
  const heard = hear(chosen, notes, segments, features, alignment.secPerQuarter, tuningCents);
  breaks.push(...splitAtHesitations(heard, notes, alignment.secPerQuarter, line.beatQuarters));

  const points: BeatPoint[] = [];
  const pointOf = new Map<number, number>();
  heard.forEach((each, i) => {
    if (!each || each.unbroken) return;
    pointOf.set(i, points.length);
    points.push({ quarters: notes[i]!.onsetQuarters, sec: each.onsetSec, run: each.run });
  });
  const beat = ownBeat(points, alignment.secPerQuarter);
  const verdicts = notes.map((note, i) =>
    verdictOf(
      note,
      heard[i],
      heard[i + 1],
      heard[i - 1],
      beat,
      pointOf.get(i),
      tuningCents,
      options,
      instrument,
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
    fit: explainedShare(passes, notes, segments, alignment.secPerQuarter),
  };
}

/**
 * Listens once more where a note seems to be missing: whether its pitch sounds when the player's own beat has it due, in
 * moments that belong to no other note. What the segments could not hold (a soft note in noise, one that a click cut in
 * two) is given to the player, with little confidence.
 */
function listenAgain(
  notes: readonly SoundingNote[],
  verdicts: NoteVerdict[],
  heard: readonly (Heard | undefined)[],
  beat: OwnBeat,
  features: Features,
  tuning: number,
): void {
  const { midi, clarity, rivals, outlineDb, pitchHopSec, fineHopSec } = features;
  const perFrame = Math.round(pitchHopSec / fineHopSec);
  const softest = median(noteLevels(verdicts, features).filter((level) => level !== null)) - AGAIN.softerDb;
  const taken = heard.flatMap((each) =>
    each && !each.unbroken ? [[each.onsetSec, each.offsetSec] as const] : [],
  );
  verdicts.forEach((verdict, i) => {
    const note = notes[i]!;
    const beside = heard[i - 1] ?? heard[i + 1];
    if (verdict.verdict !== "missed" || note.midi === null || !beside || midi.length === 0) return;
    if (heard[i]?.unbroken) {
      const until = Math.max(heard[i]!.offsetSec, heard[i]!.onsetSec + 0.05);
      verdicts[i] = {
        ...verdict,
        ...placeInTime(heard[i]!.onsetSec, until, note.midi + tuning),
        verdict: "ok",
        cents: round(100 * tuning, 1),
        confidence: AGAIN.confidence,
      };
      return;
    }
    const due = beat.timeAt(note.onsetQuarters, beside.run);
    const lasts = note.durationQuarters * beat.rateAt(note.onsetQuarters, beside.run);
    if (!(lasts > 0)) return;
    const found: number[] = [];
    for (
      let f = Math.max(0, Math.round((due - AGAIN.reachSec) / pitchHopSec));
      f < (due + lasts + AGAIN.reachSec) / pitchHopSec;
      f++
    ) {
      if (!midi[f] || clarity[f]! < AGAIN.clarity || outlineDb[f * perFrame]! < softest) continue;
      const sec = f * pitchHopSec;
      if (taken.some(([from, to]) => sec > from - 0.02 && sec < to + 0.02)) continue;
      const off = midi[f]! - tuning - note.midi;
      const near =
        Math.abs(off) < 0.5 ||
        RIVAL_SEMITONES.some(([bit, apart]) => rivals[f]! & bit && Math.abs(off + apart) < 0.5);
      if (near) found.push(sec);
    }
    if (found.length * pitchHopSec < Math.max(AGAIN.leastSec, AGAIN.share * lasts)) return;
    const [from, to] = [found[0]!, found.at(-1)! + pitchHopSec];
    verdicts[i] = {
      ...verdict,
      ...placeInTime(from, to, note.midi + tuning),
      verdict: "ok",
      cents: round(100 * tuning, 1),
      confidence: AGAIN.confidence,
    };
  });
}
const AGAIN = { reachSec: 0.06, clarity: 0.55, leastSec: 0.06, share: 0.4, softerDb: 13, confidence: 0.3 };

function placeInTime(onset: number, offset: number, playedMidi: number) {
  return {
    onset: round(onset, 3),
    offset: round(offset, 3),
    playedMidi: round(playedMidi, 3),
    timing: "ok" as const,
    length: "ok" as const,
  };
}

/** Level of every heard note: the middle one of its 5 ms outline, dB full scale; null for a missed note. */
function noteLevels(
  verdicts: readonly NoteVerdict[],
  { outlineDb, fineHopSec }: Features,
): (number | null)[] {
  return verdicts.map(({ onset, offset }) => {
    if (onset === null || offset === null) return null;
    const from = Math.round(onset / fineHopSec);
    return median(outlineDb.subarray(from, Math.max(from + 1, Math.round(offset / fineHopSec))));
  });
}

/**
 * Share of the steady sound that the line explains, by duration: on the right pitch and in step with the note before, in
 * passes of several notes. Another piece matches a note here and there, but never a row of them.
 */
function explainedShare(
  passes: readonly Match[][],
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
  secPerQuarter: number,
): number {
  const seconds = (segment: Segment) => {
    const steady =
      segment.midi === null || (segment.spread < 0.35 && segment.offsetSec - segment.onsetSec >= 0.09);
    return steady ? segment.offsetSec - segment.onsetSec : 0;
  };
  let explained = 0;
  for (const pass of passes.filter((each) => each.length >= Math.min(SHORTEST_PASS, notes.length))) {
    pass.forEach(({ note, segment }, place) => {
      const [written, heard] = [notes[note]!, segments[segment]!];
      if (
        written.midi !== null &&
        heard.midi !== null &&
        Math.abs(pitchFor(heard, written.midi) - written.midi) > 0.55
      )
        return;
      const before = pass[place - 1];
      if (before && before.segment !== segment) {
        const expected = (written.onsetQuarters - notes[before.note]!.onsetQuarters) * secPerQuarter;
        const played = heard.onsetSec - segments[before.segment]!.onsetSec;
        if (Math.abs(played - expected) > 0.12 + 0.2 * expected) return;
      }
      if (before?.segment === segment) return;
      explained += seconds(heard);
      // A sound that wavers is heard in several stretches.
      for (let next = segment + 1; continues(segments[next], segments[next - 1]); next++)
        explained += seconds(segments[next]!);
    });
  }
  const total = (some: readonly Segment[]) => some.reduce((sum, segment) => sum + seconds(segment), 0);
  // Talk before or after a row that covers most of the line is not held against it.
  const row = passes.find((pass) => pass.length >= WHOLE_LINE * notes.length);
  const counted = row ? segments.slice(passes[0]![0]!.segment, passes.at(-1)!.at(-1)!.segment + 1) : segments;
  return explained / Math.max(0.001, total(counted));
}

function splitPasses(matches: readonly Match[]): Match[][] {
  const passes: Match[][] = [];
  for (const match of matches) {
    if (match.jump || passes.length === 0) passes.push([]);
    passes.at(-1)!.push(match);
  }
  return passes;
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
      if (
        !tail ||
        (!continues(tail, segments[next - 1]) && !afterSqueak(features, tail, segment, own.offsetSec))
      )
        break;
      own.offsetSec = tail.offsetSec;
    }
    own.squeaked = squeaks(features, segment, own, tuningCents / 100);
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

/** A squeak: so much brighter than the note, so far above it in pitch where it has one, at least and at most so long. */
const SQUEAK = { brighter: 1.7, above: 8, least: 0.035, most: 0.25 };

/** Whether a moment is far brighter than the note and no longer on its pitch. */
function squeaksAt(features: Features, fine: number, usualHz: number, own: number): boolean {
  if ((features.brightHz[fine] ?? 0) < SQUEAK.brighter * usualHz) return false;
  const pitch = features.midi[Math.round((fine * features.fineHopSec) / features.pitchHopSec)] ?? 0;
  return pitch === 0 || pitch > own + SQUEAK.above;
}

/** Whether a note jumps up for a moment and comes back: between its first and its last sound. */
function squeaks(features: Features, segment: Segment, heard: Heard, tuning: number): boolean {
  if (segment.midi === null || features.midi.length === 0) return false;
  const { fineHopSec, outlineDb, brightHz } = features;
  const from = Math.round((segment.onsetSec + 0.08) / fineHopSec);
  const to = Math.round((heard.offsetSec - 0.06) / fineHopSec);
  const usualHz = median(brightHz.subarray(from, Math.max(from + 1, to)));
  const usualDb = median(outlineDb.subarray(from, Math.max(from + 1, to)));
  let run = 0;
  for (let g = from; g < to; g++) {
    const sudden = outlineDb[g]! > usualDb - 14 && squeaksAt(features, g, usualHz, segment.midi + tuning);
    run = sudden ? run + 1 : 0;
    if (run * fineHopSec >= SQUEAK.least) return true;
  }
  return false;
}

/** Whether a stretch of the same pitch is the note again after a squeak. */
function afterSqueak(features: Features, tail: Segment, note: Segment, endSec: number): boolean {
  const gap = tail.onsetSec - endSec;
  if (tail.midi === null || note.midi === null || Math.abs(tail.midi - note.midi) > 0.6) return false;
  if (gap < 0 || gap > SQUEAK.most) return false;
  const { fineHopSec, brightHz } = features;
  const at = Math.round(endSec / fineHopSec);
  const usualHz = median(brightHz.subarray(Math.round((note.onsetSec + 0.05) / fineHopSec), at));
  let bright = 0;
  for (let g = at; g <= tail.onsetSec / fineHopSec; g++)
    if (brightHz[g]! > SQUEAK.brighter * usualHz) bright++;
  return bright * fineHopSec >= SQUEAK.least;
}

/** A crack is this far from the note it leads to, semitones, and holds its own pitch for so many pitch frames. */
const CRACK = { away: 1.9, frames: 3, within: 0.35, clarity: 0.7 };

/** Whether the first moments of a note hold another pitch, too short to be a note: not the one before, nor an octave of either. */
function cracksOpen(features: Features, note: Segment, before: Segment | undefined, tuning: number): boolean {
  const { midi, clarity, pitchHopSec } = features;
  if (note.midi === null || midi.length === 0) return false;
  const own = note.midi + tuning;
  const known = before?.midi != null && note.gapSec < 0.1 ? [own, before.midi + tuning] : [own];
  const from = Math.max(0, Math.round((note.onsetSec - 0.01) / pitchHopSec));
  let held = 0;
  let last = 0;
  for (let f = from; f < from + Math.round(CRACK_SEC / pitchHopSec); f++) {
    const here = midi[f] ?? 0;
    const foreign =
      here > 0 &&
      clarity[f]! >= CRACK.clarity &&
      known.every((each) => {
        const away = Math.abs(here - each);
        return away > CRACK.away && !SAME_SOUND.some((apart) => Math.abs(away - apart) < 0.6);
      });
    held = !foreign ? 0 : held > 0 && Math.abs(here - last) > CRACK.within ? 1 : held + 1;
    if (held >= CRACK.frames) return true;
    last = here;
  }
  return false;
}
/** A pitch so far from a sounding one may be the same sound heard in another octave, semitones. */
const SAME_SOUND = [12, 19, 24];

/** A short wrong start that runs into the note, and is not the end of the note before, perhaps heard an octave off. */
function isCrack(crack: Segment, note: Segment, before: Segment | undefined): boolean {
  if (crack.midi === null || note.midi === null) return false;
  const away = before && crack.gapSec < 0.06 ? Math.abs(crack.midi - before.midi!) : 6;
  if (away < 0.8 || Math.abs(away - 12) < 0.8) return false;
  return (
    crack.offsetSec - crack.onsetSec < CRACK_SEC &&
    note.onsetSec - crack.offsetSec < 0.04 &&
    Math.abs(crack.midi - note.midi) > 0.8
  );
}

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
  point: number | undefined,
  tuningCents: number,
  options: AssessOptions,
  instrument: Instrument | undefined,
): NoteVerdict {
  if (!heard || heard.unbroken) return missedNote(note, heard ? 0.6 : 0.9);
  const { segment } = heard;
  const tolerance = (options.pitchToleranceCents ?? 50) / 100;
  const sounding = note.midi === null || segment.midi === null ? segment.midi : pitchFor(segment, note.midi);
  const off = note.midi === null || sounding === null ? 0 : sounding - note.midi;
  const wrong = Math.abs(off) > tolerance;
  const seconds = heard.offsetSec - heard.onsetSec;
  const confidence = round(
    Math.max(
      0.05,
      Math.min(
        1,
        segment.clarity *
          (segment.spread > 0.35 ? 0.6 : 1) *
          Math.min(1, 0.55 + seconds * 3) *
          borderline(off, tolerance),
      ),
    ),
    2,
  );
  const isWrong = wrong && confidence >= BENEFIT_BELOW;

  const timingMs =
    point === undefined
      ? null
      : Math.round((heard.onsetSec - beat.timeAt(note.onsetQuarters, heard.run, point)) * 1000);
  const limit = options.timingToleranceMs ?? 70;
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
    timing:
      timingMs === null || note.fermata
        ? null
        : timingMs < -limit
          ? "early"
          : timingMs > limit
            ? "late"
            : "ok",
    timingMs: note.fermata ? null : timingMs,
    length:
      lengthRatio === null
        ? null
        : rings
          ? "ok"
          : lengthRatio < 0.5
            ? "short"
            : lengthRatio > 1.5
              ? "long"
              : "ok",
    lengthRatio,
    flags: flagsOf(note, heard, follows, instrument),
    levelDb: null,
    confidence,
  };
}

/** Near the edge of the tolerance a pitch verdict is worth less. */
function borderline(off: number, tolerance: number): number {
  const distance = Math.abs(Math.abs(off) - tolerance);
  return distance < 0.1 ? 0.4 + 6 * distance : 1;
}

/** @param follows  whether the note before was heard just before: a joint has two sides */
function flagsOf(
  note: SoundingNote,
  heard: Heard,
  follows: boolean,
  instrument: Instrument | undefined,
): NoteFlag[] {
  const flags: NoteFlag[] = [];
  if (heard.cracked) flags.push("cracked-attack");
  if (heard.squeaked) flags.push("squeak");
  if (!note.slurred || !follows || instrument?.family === "mallets") return flags;
  if (heard.segment.gapSec >= BREATH_SEC) flags.push("breath-in-slur");
  else if (heard.segment.dipDb >= RETONGUE_DB && !instrument?.legatoTongue) flags.push("re-tongued-slur");
  return flags;
}

/** Names a wrong pitch, the most telling reason first. `off` is in semitones, played minus expected. */
function wrongKind(note: SoundingNote, off: number, instrument: Instrument | undefined): NoteVerdict["kind"] {
  const semitones = Math.round(off);
  const written = note.written;
  if (written) {
    const bySignature = signatureAlter(note.fifths, written.letter);
    if (bySignature !== 0 && written.alter === bySignature && semitones === -bySignature)
      return "key-signature";
  }
  if (Math.abs(off) % 12 < 0.5 || Math.abs(off) % 12 > 11.5) return "octave";
  if (instrument && written && samePartialFamily(instrument, note, semitones)) return "partial";
  return Math.abs(semitones) === 1 ? "semitone" : "other";
}

/** Whether the played note comes out of the fingering of the expected one. */
function samePartialFamily(instrument: Instrument, note: SoundingNote, semitones: number): boolean {
  if (typeof instrument.fingering === "string" || !note.written) return false;
  const expected = fingeringFor(instrument, note.written)?.choices[0];
  const midi = spellMidi(note.midi! - instrument.soundsBy.semitones + semitones, note.fifths);
  return Boolean(
    expected && fingeringFor(instrument, midi)?.choices.some((choice) => hand(choice) === hand(expected)),
  );
}

function hand(fingering: Fingering): string {
  return fingering.kind === "slide"
    ? String(fingering.position)
    : fingering.kind === "valves"
      ? fingering.valves.join()
      : "";
}

/** A soft beginning or a flicker of the release: short, and it touches a stretch of the same pitch. */
function isEdge(short: Segment, beside: Segment | undefined): boolean {
  if (!beside || short.midi === null || beside.midi === null) return false;
  const apart = Math.max(short.onsetSec - beside.offsetSec, beside.onsetSec - short.offsetSec);
  return (
    short.offsetSec - short.onsetSec < EDGE_SEC && apart < 0.05 && Math.abs(short.midi - beside.midi) < 0.6
  );
}

/** Whether a sound nobody wrote is plainly a note of its own. */
function isExtra(segment: Segment, before: Segment | undefined, after: Segment | undefined): boolean {
  if (segment.midi === null) return true;
  if (segment.offsetSec - segment.onsetSec < EXTRA.least || segment.clarity < EXTRA.clarity) return false;
  if (isEdge(segment, before) || isEdge(segment, after) || continues(segment, before)) return false;
  // The sound before going on, on its pitch or heard an octave or a twelfth off, unless a new attack says otherwise.
  return ![before, after].some((beside) => {
    if (!beside?.midi) return false;
    const gap = beside === before ? segment.gapSec : beside.gapSec;
    const dip = beside === before ? segment.dipDb : beside.dipDb;
    const away = Math.abs(segment.midi! - beside.midi);
    const related = [0, ...SAME_SOUND].some((each) => Math.abs(away - each) < 0.8);
    return related && gap < 0.06 && dip < EXTRA.dipDb;
  });
}

function extraNotes(
  matches: readonly Match[],
  segments: readonly Segment[],
  heard: readonly (Heard | undefined)[],
  tuningCents: number,
): Assessment["extras"] {
  const used = new Set(matches.map((match) => match.segment));
  const first = Math.min(...used);
  const last = Math.max(...used);
  const cracks = new Set(heard.flatMap((each) => (each?.cracked ? [each.segmentIndex - 1] : [])));
  return segments.flatMap((segment, j) => {
    if (used.has(j) || j < first || j > last || cracks.has(j)) return [];
    if (!isExtra(segment, segments[j - 1], segments[j + 1])) return [];
    if (heard.some((each) => each && segment.onsetSec > each.onsetSec && segment.offsetSec <= each.offsetSec))
      return [];
    return [
      {
        onset: round(segment.onsetSec, 3),
        midi: segment.midi === null ? null : round(segment.midi + tuningCents / 100, 2),
      },
    ];
  });
}

export function round(value: number, digits: number): number {
  return Math.round(value * 10 ** digits) / 10 ** digits;
}
