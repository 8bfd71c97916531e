import type { SoundingNote } from "../score";
import type { OwnBeat } from "./beat";
import type { Features } from "./features";
import type { Heard } from "./heard";
import { type PartialRise, partialRise } from "./partial-onset";
import { RIVAL_SEMITONES } from "./pitch";
import { median, round } from "./statistics";
import type { NoteVerdict } from "./types";

/**
 * Listens once more where a note seems to be missing: whether its pitch sounds when the player's own beat has it due, in
 * moments that belong to no other note; or whether partials that are its own begin there. What the segments could not hold (a
 * soft note in noise, one under a hall's ringing, one that a click cut in two) is given to the player, with little confidence.
 */
export function listenAgain(
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
  const risesAt = makeRises(notes, verdicts, features, tuning);
  verdicts.forEach((verdict, i) => {
    const note = notes[i]!;
    const beside = heard[i - 1] ?? heard[i + 1];
    if (verdict.verdict !== "missed" || note.midi === null || !beside || midi.length === 0) return;
    if (heard[i]?.unbroken) {
      const until = Math.max(heard[i]!.offsetSec, heard[i]!.onsetSec + 0.05);
      verdicts[i] = given(verdict, heard[i]!.onsetSec, until, note.midi, tuning);
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
    if (found.length * pitchHopSec >= Math.max(AGAIN.leastSec, AGAIN.share * lasts)) {
      verdicts[i] = given(verdict, found[0]!, found.at(-1)! + pitchHopSec, note.midi, tuning);
      return;
    }
    const begins = risesAt(i, due);
    if (begins !== null) verdicts[i] = given(verdict, begins, begins + AGAIN.share * lasts, note.midi, tuning);
  });
}
const AGAIN = { reachSec: 0.06, clarity: 0.55, leastSec: 0.06, share: 0.4, softerDb: 13, confidence: 0.3 };

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
