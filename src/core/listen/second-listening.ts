import type { SoundingNote } from "../score";
import type { OwnBeat } from "./beat";
import type { Features } from "./features";
import type { Heard } from "./heard";
import { type PartialRise, partialRise } from "./partials";
import { RIVAL_SEMITONES } from "./pitch";
import { median, round } from "./statistics";
import type { NoteVerdict } from "./types";

/**
 * Listens once more where a note seems to be missing: whether its pitch sounds when the player's own beat has it due, in
 * moments that belong to no other note; or whether partials that are its own begin there. What the segments could not hold (a
 * soft note in noise, one under a hall's ringing, one that a click cut in two) is given to the player, with little confidence.
 *
 * @returns the verdicts, those that are given back among them
 */
export function listenAgain(
  notes: readonly SoundingNote[],
  verdicts: readonly NoteVerdict[],
  heard: readonly (Heard | undefined)[],
  beat: OwnBeat,
  features: Features,
  tuning: number,
): NoteVerdict[] {
  const soundsAt = makeStretches(verdicts, heard, features, tuning);
  const soundsThroughout = makeThroughout(verdicts, heard, features, tuning);
  const risesAt = makeRises(notes, verdicts, features, tuning);
  return verdicts.map((verdict, i) => {
    const { midi, onsetQuarters, durationQuarters } = notes[i]!;
    const own = heard[i];
    const beside = heard[i - 1] ?? heard[i + 1];
    if (verdict.verdict !== "missed" || midi === null || !beside || features.midi.length === 0)
      return verdict;
    if (own?.unbroken)
      return given(verdict, own.onsetSec, Math.max(own.offsetSec, own.onsetSec + 0.05), midi, tuning);
    const due = beat.timeAt(onsetQuarters, beside.run);
    const lasts = durationQuarters * beat.rateAt(onsetQuarters, beside.run);
    if (!(lasts > 0)) return verdict;
    const stretch = soundsAt(midi, due, lasts);
    if (stretch) return given(verdict, ...stretch, midi, tuning);
    const begins = risesAt(i, due);
    if (begins !== null && inPlace(heard, i, begins, beside.run.pass))
      return given(verdict, begins, begins + AGAIN.share * lasts, midi, tuning);
    const held = soundsThroughout(i, midi, due, lasts);
    return held ? given(verdict, ...held, midi, tuning) : verdict;
  });
}

/** Whether a note can begin then: after the one before it in the same pass, and before the one after it. */
function inPlace(heard: readonly (Heard | undefined)[], index: number, sec: number, pass: number): boolean {
  const same = (each: Heard | undefined) => each?.run.pass === pass;
  const before = heard.slice(0, index).findLast(same);
  const after = heard.slice(index + 1).find(same);
  return (!before || before.onsetSec < sec) && (!after || after.onsetSec > sec);
}

/** @returns from when to when a pitch sounds where it is due, loudly enough, in moments of no other note; null where it does not */
function makeStretches(
  verdicts: readonly NoteVerdict[],
  heard: readonly (Heard | undefined)[],
  features: Features,
  tuning: number,
): (midi: number, dueSec: number, lastsSec: number) => [fromSec: number, toSec: number] | null {
  const { midi: track, clarity, rivals, outlineDb, pitchHopSec, fineHopSec } = features;
  const perFrame = Math.round(pitchHopSec / fineHopSec);
  const softest = median(noteLevels(verdicts, features).filter((level) => level !== null)) - AGAIN.softerDb;
  const taken = heard.flatMap((each) =>
    each && !each.unbroken ? [[each.onsetSec - 0.02, each.offsetSec + 0.02] as const] : [],
  );
  return (midi, due, lasts) => {
    const found: number[] = [];
    const first = Math.max(0, Math.round((due - AGAIN.reachSec) / pitchHopSec));
    for (let f = first; f < (due + lasts + AGAIN.reachSec) / pitchHopSec; f++) {
      if (!track[f] || clarity[f]! < AGAIN.clarity || outlineDb[f * perFrame]! < softest) continue;
      const sec = f * pitchHopSec;
      if (taken.some(([from, to]) => sec > from && sec < to)) continue;
      const off = track[f]! - tuning - midi;
      const near =
        Math.abs(off) < 0.5 ||
        RIVAL_SEMITONES.some(([bit, apart]) => rivals[f]! & bit && Math.abs(off + apart) < 0.5);
      if (near) found.push(sec);
    }
    if (found.length * pitchHopSec < Math.max(AGAIN.leastSec, AGAIN.share * lasts)) return null;
    return [found[0]!, found.at(-1)! + pitchHopSec];
  };
}
/**
 * Listened to from so much before a note is due to so much after it ends, seconds; frames this periodic count, and all of them together last
 * so long at least, or such a share of the note; no more than so much softer than the take's notes; what such a note is heard with.
 */
const AGAIN = { reachSec: 0.06, clarity: 0.55, leastSec: 0.06, share: 0.4, softerDb: 13, confidence: 0.3 };

/**
 * In the time that is a note's own, between its two ends (shares of its length), its pitch is heard: then it was not left out, whichever note
 * that sound was given to. Where another note begins in such a part of it, bars were left out and that time is not its own.
 */
const THROUGHOUT = { alone: [-0.25, 0.5] as const, from: 0.05, to: 0.85, near: 0.6 };
/**
 * In such a share of the frames, that periodic, while the sound is no more than so much softer than the take's notes. Of the combined bench 15
 * notes that were said to be missed are given back by the first, one of them a wrong one, and ten by the second, which asks that the note before has
 * another pitch, since that one may ring; of 281 notes that were left out or wrong none.
 */
const HEARD_THROUGHOUT = [
  { share: 0.3, clarity: 0.6, softerDb: 8, afterItself: true },
  { share: 0.45, clarity: 0.4, softerDb: 16, afterItself: false },
];

/** @returns from when to when a pitch sounds in its own time, loudly, whatever else was heard there; null where it does not */
function makeThroughout(
  verdicts: readonly NoteVerdict[],
  heard: readonly (Heard | undefined)[],
  features: Features,
  tuning: number,
): (index: number, midi: number, due: number, lasts: number) => [fromSec: number, toSec: number] | null {
  const begun = heard.flatMap((each) => (each ? [each.onsetSec] : []));
  const { midi: track, clarity, outlineDb, pitchHopSec, fineHopSec } = features;
  const usualDb = median(noteLevels(verdicts, features).filter((level) => level !== null));
  return (index, midi, due, lasts) => {
    const [free, until] = THROUGHOUT.alone.map((share) => due + share * lasts) as [number, number];
    if (begun.some((sec) => sec > free && sec < until)) return null;
    const [from, to] = [due + THROUGHOUT.from * lasts, due + THROUGHOUT.to * lasts];
    const [first, last] = [Math.max(0, Math.round(from / pitchHopSec)), Math.round(to / pitchHopSec)];
    const level = median(
      outlineDb.subarray(Math.max(0, Math.round(from / fineHopSec)), Math.round(to / fineHopSec)),
    );
    const before = heard.slice(0, index).findLast(Boolean)?.midi;
    const itself = before != null && Math.abs(before - midi) < THROUGHOUT.near;
    for (const { share, clarity: least, softerDb, afterItself } of HEARD_THROUGHOUT) {
      if (level <= usualDb - softerDb || (itself && !afterItself)) continue;
      const own: number[] = [];
      for (let f = first; f < Math.min(last, track.length); f++)
        if (track[f] && clarity[f]! >= least && Math.abs(track[f]! - tuning - midi) < THROUGHOUT.near)
          own.push(f);
      if (own.length > 0 && own.length >= share * (last - first))
        return [own[0]! * pitchHopSec, (own.at(-1)! + 1) * pitchHopSec];
    }
    return null;
  };
}

/**
 * Partials begin a note: near to when it is due, out of so much less, and not far softer than those of the take's other notes; further
 * away only where they are plainer (of the looked-at takes of the combined bench it gives back 24 notes that were played and 4 that were not).
 */
const BEGINS = [
  { withinSec: 0.07, riseDb: 20.5, softerDb: 17 },
  { withinSec: 0.16, riseDb: 26, softerDb: 13 },
];
/** So many right notes tell how loud the take's partials are. */
const COMPARED = 12;

/** @returns when a missed note begins by its own partials, seconds; null where they do not say that it does */
function makeRises(
  notes: readonly SoundingNote[],
  verdicts: readonly NoteVerdict[],
  { sound }: Features,
  tuning: number,
): (index: number, dueSec: number) => number | null {
  const riseAt = (index: number, sec: number): PartialRise | null => {
    const before = verdicts.slice(0, index).findLast(({ playedMidi }) => playedMidi !== null);
    const after = verdicts.slice(index + 1).find(({ playedMidi }) => playedMidi !== null);
    const beside = [before, after].flatMap((each) => each?.playedMidi ?? []);
    return partialRise(sound, notes[index]!.midi! + tuning, beside, sec);
  };
  let usualDb: number | undefined;
  const usual = () => {
    const clear = verdicts.filter(({ verdict, confidence }) => verdict === "ok" && confidence >= CLEAR);
    const every = Math.ceil(clear.length / COMPARED);
    const compared = clear.filter((_, place) => place % every === 0);
    return median(compared.flatMap(({ index, onset }) => riseAt(index, onset!)?.levelDb ?? []));
  };
  return (index, dueSec) => {
    const rise = riseAt(index, dueSec);
    if (!rise) return null;
    usualDb ??= usual();
    const softer = usualDb - rise.levelDb;
    const begins = BEGINS.some(
      ({ withinSec, riseDb, softerDb }) =>
        Math.abs(rise.sec - dueSec) <= withinSec && rise.riseDb >= riseDb && softer <= softerDb,
    );
    return begins ? rise.sec : null;
  };
}
/** How clearly a right note was heard that others are compared with, 0 to 1. */
const CLEAR = 0.75;

/** A missed note given to the player after all. */
function given(
  missed: NoteVerdict,
  onset: number,
  offset: number,
  midi: number,
  tuning: number,
): NoteVerdict {
  return {
    ...missed,
    verdict: "ok",
    onset: round(onset, 3),
    offset: round(offset, 3),
    playedMidi: round(midi + tuning, 3),
    cents: round(100 * tuning, 1),
    timing: "ok",
    length: "ok",
    confidence: AGAIN.confidence,
  };
}

/** Level of every heard note: the middle one of its 5 ms outline, dB full scale; null for a missed note. */
export function noteLevels(
  verdicts: readonly Pick<NoteVerdict, "onset" | "offset">[],
  { outlineDb, fineHopSec }: Features,
): (number | null)[] {
  return verdicts.map(({ onset, offset }) => {
    if (onset === null || offset === null) return null;
    const from = Math.round(onset / fineHopSec);
    return median(outlineDb.subarray(from, Math.max(from + 1, Math.round(offset / fineHopSec))));
  });
}
