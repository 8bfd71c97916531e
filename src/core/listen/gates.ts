import type { SoundingNote } from "../score";
import type { Alignment } from "./align";
import { pitchedSegments } from "./cutting";
import type { Features, PitchReach } from "./features";
import type { Judgement } from "./judge";
import { soundFloorDb } from "./levels";
import { splitPasses } from "./passes";
import { continues, lasting, pitchFor, type Segment, usualPeakDb } from "./segments";
import { percentile, total } from "./statistics";

const TOO_QUIET_DB = -58;
/**
 * What makes a take one of a line; each constant with the case of `bin/bench combined` that moves with it.
 */
const LINE = {
  /** Evidence of its rows and the share of the playing that it explains: one of these will do ("another line refused", "partial takes known"). */
  shown: [
    { evidence: 8.5, share: 0 },
    { evidence: 6, share: 0.27 },
    { evidence: 3.2, share: 0.4 },
  ],
  /** The share that lines must explain of which there are no rows to speak of, and strokes. */
  share: 0.36,
  /** The same where most of the sound glides as a voice does ("talk against a melody"). */
  amidTalk: 15,
  /** Lines of fewer notes have no rows to speak of; they are known by the share alone. */
  fewNotes: 6,
};
/**
 * Evidence of a row of notes, in natural logarithms of how much likelier each is to be met in a take of the line than in another piece of
 * its kind; a row has to make up for the many places where it could have begun. Fitted by eye to parts of lines that children play
 * and to other lines in the same keys (180 and 540 takes of the combined bench).
 */
const EVIDENCE = { inStep: 2.2, wrong: -0.9, missed: -0.8, extra: -0.5, begins: -5 };
/** Fewer matched notes in a row say nothing about which piece it is. */
const SHORTEST_PASS = 4;
/** A pass that matches so much of the line is the line. */
const WHOLE_LINE = 0.7;
/** Softer than the middle of the take by so much, a sound between two notes is not held against a row, dB. */
const FAINT_EXTRA_DB = 10;
/** Nearer than this a sound is at the pitch of a note, semitones; in step within so many seconds and so much of the gap. */
const AT_PITCH = 0.55;
const IN_STEP = { sec: 0.12, share: 0.2 };

/** Whether a take is a take of this line, however badly played. */
export function isThisLine(
  alignment: Alignment,
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
): boolean {
  const { share, evidence } = lineFit(alignment, notes, segments);
  if (notes.length < LINE.fewNotes) return share >= LINE.share;
  // A row may be met by chance in a voice that goes up and down.
  if (isTalk(segments)) return share >= LINE.share && evidence >= LINE.amidTalk;
  return LINE.shown.some((least) => evidence >= least.evidence && share >= least.share);
}

/**
 * Fewer attacks in step with a longer rhythm may be any sudden sounds; their evidence is asked for up to a number, of short rhythms a
 * share of all there can be ("talk against a rhythm").
 */
const RHYTHM = { leastAttacks: 6, evidence: 8, shareOfAll: 0.6 };
/**
 * Nobody is asked for a rhythm and claps it in less than this share of its time: strokes as fast as they can be made fit any rhythm ("strokes
 * that are no rhythm" of the tests: eight quarters at 300 instead of 100 a minute were all right and in time).
 */
const FASTEST = 0.5;
/**
 * Half of the strokes this far from any beat of the player's, as a share of a quarter, are no rhythm; what is too many or left out leaves less
 * room, so much where it is as much as the line ("random strokes" of the tests).
 */
const LOOSE = { offBeat: 0.22, lessFor: 0.15 };

/** The same for strokes: enough of them in step, not more beside the line than in it, not far too fast, and on some beat. */
export function isThisRhythm(
  alignment: Alignment,
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
  judged: Pick<Judgement, "notes" | "extras" | "beat" | "offBeat">,
  markedSecPerQuarter: number,
): boolean {
  const matched = judged.notes.filter((note) => note.verdict !== "missed").length;
  const { share, evidence } = lineFit(alignment, notes, segments);
  const mistaken = (judged.extras.length + notes.length - matched) / notes.length;
  const allOfIt = EVIDENCE.inStep * notes.length + EVIDENCE.begins;
  return (
    matched >= Math.min(RHYTHM.leastAttacks, 0.5 * notes.length) &&
    evidence >= Math.min(RHYTHM.evidence, RHYTHM.shareOfAll * allOfIt) &&
    share >= LINE.share &&
    judged.extras.length <= notes.length &&
    judged.beat.secPerQuarter >= FASTEST * markedSecPerQuarter &&
    judged.offBeat < LOOSE.offBeat - LOOSE.lessFor * Math.min(1, mistaken)
  );
}

/** How much of what was played a line explains. */
interface LineFit {
  /** Share of the steady sound, by duration, 0 to 1. */
  share: number;
  /** Of all its rows together: how much likelier they are in a take of the line than in another piece. */
  evidence: number;
}

/**
 * What a line explains of the playing: sounds on the right pitch and in step with the note before, in passes of several notes. Another
 * piece matches a note here and there, but never a row of them.
 */
function lineFit(
  { matches, secPerQuarter }: Alignment,
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
): LineFit {
  const passes = splitPasses(matches);
  const usualDb = usualPeakDb(segments);
  let [explained, evidence] = [0, 0];
  for (const pass of passes) {
    const counts = pass.length >= Math.min(SHORTEST_PASS, notes.length);
    let row = EVIDENCE.begins;
    pass.forEach(({ note, segment }, place) => {
      const before = pass[place - 1];
      if (before?.segment === segment) return;
      const [written, heard] = [notes[note]!, segments[segment]!];
      if (before) {
        row += EVIDENCE.missed * (note - before.note - 1);
        for (let k = before.segment + 1; k < segment; k++)
          if (isPlain(segments[k]!, segments[k - 1], usualDb)) row += EVIDENCE.extra;
      }
      if (
        written.midi !== null &&
        heard.midi !== null &&
        Math.abs(pitchFor(heard, written.midi) - written.midi) > AT_PITCH
      ) {
        row += EVIDENCE.wrong;
        return;
      }
      if (before) {
        const expected = (written.onsetQuarters - notes[before.note]!.onsetQuarters) * secPerQuarter;
        const played = heard.onsetSec - segments[before.segment]!.onsetSec;
        if (Math.abs(played - expected) > IN_STEP.sec + IN_STEP.share * expected) return;
      }
      row += EVIDENCE.inStep;
      if (!counts) return;
      explained += steadySec(heard);
      // A sound that wavers is heard in several stretches.
      for (let next = segment + 1; continues(segments[next], segments[next - 1]); next++)
        explained += steadySec(segments[next]!);
    });
    evidence += Math.max(0, row);
  }
  // Talk before or after a row that covers most of the line is not held against it.
  const row = passes.find((pass) => pass.length >= WHOLE_LINE * notes.length);
  const counted = row ? segments.slice(passes[0]![0]!.segment, passes.at(-1)!.at(-1)!.segment + 1) : segments;
  return { share: explained / Math.max(0.001, total(counted.map(steadySec))), evidence };
}

/** A sound of the player's that nobody wrote: steady, not the one before going on, not far off. */
function isPlain(segment: Segment, before: Segment | undefined, usualDb: number): boolean {
  return steadySec(segment) > 0 && !continues(segment, before) && segment.peakDb > usualDb - FAINT_EXTRA_DB;
}

function steadySec(segment: Segment): number {
  if (segment.foreign) return 0;
  const steady = segment.midi === null || (segment.spread < 0.35 && lasting(segment) >= 0.09);
  return steady ? lasting(segment) : 0;
}

export function isTooQuiet(features: Features): boolean {
  return percentile(features.levelDb, 98) < TOO_QUIET_DB;
}

const ofBars = (segment: Segment) => segment.spread < 0.25 && segment.clarity > 0.5;

/** Bars keep the pitch they were struck with, which most sudden sounds of a room have not, and have few partials, where a voice has many. */
export function strokesOnBars(segments: readonly Segment[]): boolean {
  const clear = segments.filter(ofBars);
  const rivals = total(segments.map((segment) => segment.rivals.length));
  return (
    clear.length >= 2 && clear.length >= 0.4 * segments.length && rivals < VOICE_ON_BARS * segments.length
  );
}
/**
 * Other peaks of a stroke about as high, of five that are looked for: sentences that were taken for a line of bells had 4.3 and more, 112 takes
 * of bells with everything at once 3.3 at most, all but three of them 2.1 ("talk against a melody").
 */
const VOICE_ON_BARS = 3.8;

export function mostlyBars(segments: readonly Segment[]): boolean {
  return segments.filter(ofBars).length >= 0.75 * segments.length;
}

/**
 * A voice glides: of its pitched moments at most 0.28 stood still in sentences of a speech synthesiser, where every
 * instrument heard, wavering and in a tiled room, had 0.85 and more.
 */
export function isTalk(segments: readonly Segment[]): boolean {
  const standing = segments.filter((segment) => Math.abs(segment.glide) < 1.5 && segment.spread < 0.25);
  return secondsOf(standing) < 0.5 * secondsOf(segments);
}

/** Whether the sudden sounds of a take are words. Counting aloud in step with a rhythm is judged before anybody asks. */
export function isVoice(listen: (reach: PitchReach) => Features): boolean {
  const features = listen({ lowest: VOICE.lowest, highest: VOICE.highest });
  const segments = pitchedSegments(features);
  return secondsOf(segments) > VOICE.leastSec && isTalk(segments);
}
const VOICE = { lowest: 40, highest: 80, leastSec: 0.5 };

/** One pitch that never stops, give or take octaves: a fan, a mains hum. */
export function isHum(segments: readonly Segment[]): boolean {
  const longest = segments.reduce((best, each) => (lasting(each) > lasting(best) ? each : best));
  const same = segments.filter((each) => {
    const away = Math.abs(each.midi! - longest.midi!) % 12;
    return away < 0.6 || away > 11.4;
  });
  return lasting(longest) > 4 && secondsOf(same) > 0.9 * secondsOf(segments);
}

function secondsOf(segments: readonly Segment[]): number {
  return total(segments.map(lasting));
}

/** Playing holds steady pitches for a good part of its sounding time; speech glides and noise has none. */
export function soundsLikeMusic(segments: readonly Segment[], features: Features): boolean {
  const steady = segments.filter(
    (segment) => segment.spread < 0.25 && lasting(segment) >= 0.09 && segment.clarity > 0.8,
  );
  const steadySec = secondsOf(steady);
  const loud = Math.max(percentile(features.levelDb, 95) - 30, soundFloorDb(features));
  let soundingSec = 0;
  for (const level of features.outlineDb) if (level > loud) soundingSec += features.fineHopSec;
  return steadySec >= 0.5 && steadySec >= 0.3 * soundingSec;
}
