import type { SoundingNote } from "../score";
import { seamNear } from "./align";
import { afterSqueak, cracksOpen, isCrack, squeaks, squeaksBetween } from "./blemishes";
import { isCorrected } from "./corrections";
import type { Features } from "./features";
import type { Heard, Run } from "./heard";
import { octaveEvidence, oddPartialsLack, oddPartialsStand, oddPartialsWeak } from "./octave-evidence";
import type { Chosen } from "./passes";
import { continues, pitchFor, type Segment, usualPeakDb } from "./segments";

/**
 * What was heard for each note: the sound it was matched with, where it begins and ends, in which octave it sounds, and what is wrong with
 * its sound.
 *
 * @param chosen  one match a note at most, in order of the notes
 * @param taken   segments that were matched with a note in any pass: none of them is a try at another one
 * @returns one entry a note; undefined for what was missed
 */
export function hear(
  chosen: readonly Chosen[],
  taken: ReadonlySet<number>,
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
  features: Features,
  secPerQuarter: number,
  tuningCents: number,
): (Heard | undefined)[] {
  const heard: (Heard | undefined)[] = notes.map(() => undefined);
  const usualDb = usualPeakDb([...new Set(chosen.map(({ segment }) => segments[segment]!))]);
  const runs = new Map<number, Run>();
  const runOf = (pass: number) => runs.get(pass) ?? runs.set(pass, { pass, part: 0 }).get(pass)!;
  chosen.forEach((match, place) => {
    const segment = segments[match.segment]!;
    const before = chosen[place - 1];
    const own: Heard = {
      segment,
      segmentIndex: match.segment,
      ...soundingAs(notes[match.note]!, segment, features, tuningCents / 100),
      run: runOf(match.pass),
      onsetSec: segment.onsetSec,
      offsetSec: segment.offsetSec,
      heldUntilSec: segment.offsetSec,
      unbroken: false,
      sureAttack: true,
      cracked: false,
      corrected: null,
      squeaked: false,
    };
    const tried = taken.has(match.segment - 1) ? undefined : segments[match.segment - 1];
    if (tried && isCrack(tried, segment, segments[match.segment - 2])) {
      own.onsetSec = tried.onsetSec;
      own.cracked = true;
    }
    const previous = before && heard[before.note];
    const around =
      previous && previous.run === own.run ? { note: notes[before.note]!, heard: previous } : undefined;
    if (
      tried &&
      !own.cracked &&
      isCorrected(notes[match.note]!, tried, segment, around, secPerQuarter, usualDb)
    ) {
      own.onsetSec = tried.onsetSec;
      own.corrected = tried.midi;
    }
    own.cracked ||= cracksOpen(features, segment, segments[match.segment - 1], tuningCents / 100);
    // A sound that wavers is heard in several stretches: the note lasts until the last one ends.
    for (let next = match.segment + 1; !taken.has(next); next++) {
      const tail = segments[next];
      if (!taken.has(next + 1) && squeaksBetween(segment, tail, segments[next + 1])) {
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
      const first = heard[before.note]!;
      const apart = (notes[match.note]!.onsetQuarters - notes[before.note]!.onsetQuarters) * secPerQuarter;
      const expected = first.onsetSec + apart;
      const attack = seamNear(segment, expected, apart);
      own.onsetSec = attack ?? expected;
      own.unbroken = attack === undefined;
      own.cracked = false;
      own.corrected = null;
      if (attack !== undefined) first.offsetSec = attack;
    }
    heard[match.note] = own;
  });
  return octavesBeside(heard).map((each) => each && { ...each, heldUntilSec: each.offsetSec });
}

/** Where a segment sounds that was heard as a note, the take's tuning taken off; null without a pitch. */
function soundingAs(
  { midi: written }: SoundingNote,
  segment: Segment,
  { sound, midi: track }: Features,
  tuning: number,
): Pick<Heard, "midi" | "clarity" | "oddDb"> {
  const { midi, clarity } = segment;
  if (midi === null || written === null) return { midi, clarity, oddDb: null };
  const heard = pitchFor(segment, written);
  // Bars have partials of their own.
  if (track.length === 0) return { midi: heard, clarity, oddDb: null };
  const below = Math.abs(heard + 12 - written) < SAME_NAME && clarity < OCTAVE_CLEAR;
  const evidence = (midi: number) =>
    octaveEvidence(sound, midi + tuning, segment.onsetSec, segment.offsetSec);
  if (Math.abs(heard - 12 - written) < SAME_NAME) {
    const { away, oddDb } = evidence(heard - 12);
    if (away === 0 && oddDb !== null && oddPartialsStand(oddDb)) return { midi: heard - 12, clarity, oddDb };
  }
  if (!below && Math.abs(heard - written) > SAME_NAME) return { midi: heard, clarity, oddDb: null };
  const asWritten = below ? heard + 12 : heard;
  const { away, oddDb } = evidence(asWritten);
  return { midi: asWritten + away, clarity: away === 0 ? clarity : OCTAVE_SURE, oddDb };
}

/** A note whose odd partials are far weaker than those of the notes near it in pitch sounds an octave up. */
function octavesBeside(heard: readonly (Heard | undefined)[]): (Heard | undefined)[] {
  return heard.map((own) => {
    if (!own || own.midi === null || own.oddDb === null || !oddPartialsWeak(own.oddDb)) return own;
    const { midi, oddDb } = own;
    const others = heard.flatMap((each) =>
      each && each !== own && each.oddDb !== null && Math.abs(each.midi! - midi) <= NEAR_IN_PITCH
        ? [each.oddDb]
        : [],
    );
    return oddPartialsLack(oddDb, others) ? { ...own, midi: midi + 12, clarity: OCTAVE_SURE } : own;
  });
}
/** A fourth: the registers of an instrument have each their own colour, semitones. */
const NEAR_IN_PITCH = 5;
/** A pitch whose octave its partials show is as clear as can be. */
const OCTAVE_SURE = 1;
/** A sound is asked for its octave where it would otherwise be the written note, semitones. */
const SAME_NAME = 0.6;
/** Where its periods are clearer than this, they are believed when they say the octave below. */
const OCTAVE_CLEAR = 0.82;
