import type { Pcm } from "../audio";
import { type Score, timeline } from "../score";
import { assess } from "./assess";
import { gapsWithin, wasRecorded } from "./gaps";
import { percentile } from "./statistics";
import type { Assessment, AssessOptions, Attempt, NoteVerdict } from "./types";

/** Loudness is looked at in steps of so long, seconds. */
const STEP_SEC = 0.05;
/** What lies so far below the loud part of a recording is silence, dB. */
const SILENCE_DB = -32;
/** A pause that is longer than this, and than the line's own rests, may stand between two attempts, seconds. */
const LEAST_PAUSE_SEC = 2.2;
/** An attempt is at least so much of the line's length at the asked tempo; a false start is none. */
const LEAST_OF_LINE = 0.6;
/** So much of the line has to be found in it. */
const LEAST_FOUND = 0.5;
/** So much around an attempt is heard with it: breath and the ring of the last note. */
const AROUND_SEC = 0.4;

export type AttemptRule = "best" | "last";

/**
 * How much of a line was found in a take, less what was played beside it, 0 to 1. A take that was not assessed explains nothing.
 */
export function foundShare({ take, notes, extras }: Pick<Assessment, "take" | "notes" | "extras">): number {
  if (take.status !== "assessed" || notes.length === 0) return 0;
  const recorded = notes.filter(wasRecorded);
  const count = (verdict: NoteVerdict["verdict"]) =>
    recorded.filter((note) => note.verdict === verdict).length;
  return Math.max(0, (count("ok") - count("wrong-pitch") / 2 - extras.length / 2) / notes.length);
}

/**
 * Assesses a recording in which a line may be played more than once, with talk or quiet between: each attempt alone, the best or the
 * last of them as the take. A recording of one attempt, of another piece or by rhythm alone is assessed as it is.
 *
 * @returns times from the start of the recording; `attempts` only where there are several
 * @throws RangeError as `assess` does
 */
export function assessAttempts(
  score: Score,
  pcm: Pcm,
  options: AssessOptions = {},
  rule: AttemptRule = "best",
): Assessment {
  if (options.mode || score.catalogued) return assess(score, pcm, options);
  const tried = stretches(score, pcm, options).map(([fromSec, toSec]) => {
    const from = Math.max(0, fromSec - AROUND_SEC);
    const to = toSec + AROUND_SEC;
    const samples = pcm.samples.subarray(
      Math.floor(from * pcm.sampleRate),
      Math.min(pcm.samples.length, Math.ceil(to * pcm.sampleRate)),
    );
    const gaps = gapsWithin(options.gaps ?? [], from, to);
    const own = assess(score, { samples, sampleRate: pcm.sampleRate }, { ...options, gaps });
    return { fromSec, toSec, share: foundShare(own), assessment: later(own, from) };
  });
  const counted = tried.filter(({ share }) => share >= LEAST_FOUND);
  if (counted.length < 2) return assess(score, pcm, options);
  const chosen =
    rule === "last"
      ? counted.at(-1)!
      : counted.reduce((best, each) => (each.share >= best.share ? each : best));
  const attempts = counted.map(
    (each): Attempt => ({
      fromSec: each.fromSec,
      toSec: each.toSec,
      share: each.share,
      judged: each === chosen,
    }),
  );
  return { ...chosen.assessment, attempts };
}

/** Stretches of sound that may each be the whole line, seconds; fewer than two where there is nothing to tell apart. */
function stretches(score: Score, { samples, sampleRate }: Pcm, options: AssessOptions): [number, number][] {
  const line = timeline(score, {
    ...(options.bpm === undefined ? {} : { bpm: options.bpm }),
    ...(options.withoutRepeats === undefined ? {} : { withoutRepeats: options.withoutRepeats }),
  });
  const rests = line.notes.map(
    ({ onsetSec, durationSec }, i) =>
      (line.notes[i + 1]?.onsetSec ?? onsetSec + durationSec) - onsetSec - durationSec,
  );
  const pauseSec = Math.max(LEAST_PAUSE_SEC, 1.6 * Math.max(0, ...rests) + 1);
  const step = Math.max(1, Math.round(STEP_SEC * sampleRate));
  const levels: number[] = [];
  for (let at = 0; at + step <= samples.length; at += step) {
    let sum = 0;
    for (let i = at; i < at + step; i++) sum += samples[i]! * samples[i]!;
    levels.push(10 * Math.log10(sum / step + 1e-12));
  }
  if (levels.length === 0) return [];
  const loud = percentile(levels, 90);
  const found: [number, number][] = [];
  for (const [i, level] of levels.entries()) {
    if (level < loud + SILENCE_DB) continue;
    const [from, to] = [(i * step) / sampleRate, ((i + 1) * step) / sampleRate];
    const last = found.at(-1);
    if (last && from - last[1] < pauseSec) last[1] = to;
    else found.push([from, to]);
  }
  return found.filter(([from, to]) => to - from >= LEAST_OF_LINE * line.totalSec);
}

/** The same assessment of a recording that begins so many seconds earlier. */
function later(assessment: Assessment, bySec: number): Assessment {
  const at = (sec: number) => sec + bySec;
  return {
    ...assessment,
    notes: assessment.notes.map((note) => ({
      ...note,
      onset: note.onset === null ? null : at(note.onset),
      offset: note.offset === null ? null : at(note.offset),
    })),
    extras: assessment.extras.map((extra) => ({ ...extra, onset: at(extra.onset) })),
    breaks: assessment.breaks.map((each) => ({ ...each, atSec: at(each.atSec) })),
  };
}
