import type { Assessment, ByEar } from "../../core/listen";
import { pitchName, spellMidi } from "../../core/music";
import { type Cause, type CausePlace, causesOf } from "../../core/progress";
import type { Score } from "../../core/score";
import { nameList } from "./names";

/** One place of a finding: where it is, and when it sounds. */
export interface Spot {
  place: string;
  atSec: number;
  untilSec: number;
  eventId: string | null;
  /** Place of the note in the assessment; null where it is no matter of one note. */
  noteIndex: number | null;
}

/** One cause with every place where it is heard. */
export interface Finding {
  cause: Cause;
  sentence: string;
  spots: Spot[];
  /** A ready comment to the player about all of it; null where the director had better say it in own words. */
  advice: string | null;
}

/** Name of a heard sounding pitch in the player's own key. */
export function heardName(midi: number, score: Score): string {
  const fifths = score.parts[0].measures[0]?.key?.fifths ?? 0;
  return pitchName(spellMidi(midi - score.parts[0].soundsBy.semitones, fifths), false);
}

export function writtenName(eventId: string, score: Score): string {
  const pitch = score.parts[0].measures
    .flatMap((measure) => measure.events)
    .find((event) => event.id === eventId)?.pitch;
  return pitch ? pitchName(pitch, false) : "the note";
}

/** "bar 5, beat 2 and", "pickup, beat 4": parts of a beat by the common numbers (common practice, no published source). */
export function placeName(note: { measure: string; beat: number }): string {
  const whole = Math.floor(note.beat + 1e-6);
  const part = Math.round((note.beat - whole) * 100);
  const word = { 0: "", 25: " e", 50: " and", 75: " a" }[part] ?? " and a bit";
  return `${barName(note.measure)}, beat ${whole}${word}`;
}

/** The notes of a part to choose one from: "bar 3, beat 1: B♭4". */
export function noteChoices(
  notes: readonly { eventId: string; measure: string; beat: number; name: string }[],
): { eventId: string; label: string }[] {
  return notes.map((note) => ({ eventId: note.eventId, label: `${placeName(note)}: ${note.name}` }));
}

function barName(measure: string): string {
  return measure === "0" ? "pickup" : `bar ${measure}`;
}

/**
 * What is wrong with a take, each cause once with all its places, the most important first: five naturals for one flat are one
 * finding, and so is a beat that runs away.
 */
export function findings(assessment: Assessment, score: Score): Finding[] {
  return causesOf(assessment, score).map((cause) => ({
    cause,
    spots: cause.places.map((place) => spotOf(cause, place)),
    ...told(cause, score),
  }));
}

function spotOf({ kind }: Cause, { measure, beat, atSec, untilSec, eventId, noteIndex }: CausePlace): Spot {
  const place =
    kind === "rushing" || kind === "dragging"
      ? "whole take"
      : kind === "extra"
        ? `at ${clock(atSec)}`
        : beat === null
          ? barName(measure)
          : placeName({ measure, beat });
  return { place, atSec, untilSec, eventId, noteIndex };
}

/** What a player is told of a take: the few most helpful sentences, one a cause, the most important first. */
export function helpfulAdvice(found: readonly Finding[], most = 3): string[] {
  return [...new Set(found.flatMap(({ advice }) => advice ?? []))].slice(0, most);
}

/** "Bar 5", "Bars 2, 3 and 5", "Pickup". */
function barsOf(places: readonly CausePlace[]): string {
  const bars = [...new Set(places.map(({ measure }) => barName(measure).replace("bar ", "")))];
  const names = nameList(bars);
  return bars[0] === "pickup" ? names.replace("p", "P") : `${bars.length === 1 ? "Bar" : "Bars"} ${names}`;
}

/** What a director reads of a cause, and what may be said to the player about it. */
function told(cause: Cause, score: Score): Pick<Finding, "sentence" | "advice"> {
  const { kind, places, written, playedMidi } = cause;
  const [first] = places;
  const one = places.length === 1;
  const bar = barName(first!.measure);
  const where = barsOf(places);
  const name = written ? pitchName(written, false) : "the note";
  const here = first!.eventId ? writtenName(first!.eventId, score) : name;
  const heard = playedMidi === null ? "" : heardName(playedMidi, score);
  const amount = first!.amount ?? 0;
  const say = (sentence: string, advice: string | null) => ({ sentence, advice });
  switch (kind) {
    case "missed":
      return written
        ? say(`${name} was not played.`, `${where}: leave room for the ${name}.`)
        : say(
            one ? "A stroke was not played." : "Strokes were not played.",
            one ? `${where}: one stroke is missing.` : `${where}: ${places.length} strokes are missing.`,
          );
    case "key-signature":
      return say(
        `${heard} natural where the key makes it ${name}.`,
        `${where}: the key signature makes it ${name}.`,
      );
    case "semitone":
      return say(
        `${heard} instead of ${name}, a semitone off.`,
        `${where}: check the ${name}, you played ${heard}.`,
      );
    case "partial":
      return say(
        `${heard} instead of ${name}: the same fingering, another partial.`,
        `${where}: hear the ${name} before you play it.`,
      );
    case "octave":
      return say(`${name} in another octave.`, `${where}: the ${name} belongs in the written octave.`);
    case "other":
      return say(`${heard} instead of ${name}.`, `${where}: ${name} is written, you played ${heard}.`);
    case "heard-wrong":
      return say("Not right, by your own ear.", `${where}: look at this place once more.`);
    case "doubled":
      return say(
        one ? `${here} was struck twice.` : "Notes struck twice.",
        `${where}: one tongue for each note, then let it sound.`,
      );
    case "extra":
      return say(one ? "A note too many, between the written ones." : "More notes than are written.", null);
    case "cracked":
      return say(
        one ? `The start of ${here} cracked.` : "Starts that cracked.",
        `${where}: set the lips and the air before the ${one ? here : "note"}.`,
      );
    case "squeak":
      return say(
        one ? `${here} squeaked.` : "Squeaks.",
        `${where}: keep the air steady and the fingers closed${one ? ` on the ${here}` : ""}.`,
      );
    case "early":
      return say(
        one ? `Ahead of the player's own beat by ${Math.abs(amount)} ms.` : "Ahead of the player's own beat.",
        `${where}: wait for the beat.`,
      );
    case "late":
      return say(
        one ? `Behind the player's own beat by ${amount} ms.` : "Behind the player's own beat.",
        `${where}: keep moving with the beat.`,
      );
    case "short":
      return say(
        one ? `${here} let go after ${Math.round(100 * amount)} % of its length.` : "Notes let go too early.",
        `${where}: hold the ${one ? here : "notes"} for ${one ? "its" : "their"} whole length.`,
      );
    case "long":
      return say(
        one ? `${here} held ${Math.round(100 * amount)} % of its length.` : "Notes held too long.",
        `${where}: let the ${one ? here : "notes"} go in time.`,
      );
    case "breath-in-slur":
      return say("A breath inside the slur.", `${where}: breathe before the slur, not inside it.`);
    case "re-tongued-slur":
      return say("Tongued inside the slur.", `${where}: tongue only the first note of the slur.`);
    case "rushing":
      return say(
        `The beat ran away: ${Math.round(amount)} % faster at the end than at the start.`,
        "Keep the beat of the beginning: tap your foot and do not let it run.",
      );
    case "dragging":
      return say(
        `The beat sagged: ${Math.round(-amount)} % slower at the end than at the start.`,
        "Keep the beat of the beginning: tap your foot, and breathe without slowing down.",
      );
    case "dynamics":
      return say(
        one
          ? `The change of loudness was not heard (${amount.toFixed(1)} dB).`
          : "Changes of loudness were not heard.",
        `${where}: play the difference between soft and loud.`,
      );
    case "hesitation":
      return say(
        `A pause of ${amount.toFixed(1)} s before going on.`,
        `Play into ${bar} slowly, without the stop, until your fingers know the way.`,
      );
    case "restart":
      return say(
        `Stopped and began again at ${bar}.`,
        `When something slips near ${bar}, keep going; we fix it afterwards.`,
      );
    case "stopped-early":
      return say("Stopped here; the rest was not played.", `Next time play on from ${bar} to the end.`);
  }
}

/** "0:07.4" */
export function clock(seconds: number): string {
  return `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, "0")}`;
}

/** Attacks this near an even beat are even to a listener, ms. */
const EVEN_MS = 45;
/** From here on a take is noticeably sharp or flat as a whole, cents. */
const OUT_OF_TUNE_CENTS = 15;

/** What can be said without knowing the notes. */
function byEarSentence(heard: ByEar, tuningCents: number | null): string {
  const beat =
    heard.tempoBpm === null
      ? "Too few notes to speak of a beat"
      : heard.unevenMs! <= EVEN_MS
        ? `A steady beat near ${Math.round(heard.tempoBpm)} bpm`
        : `An uneven beat near ${Math.round(heard.tempoBpm)} bpm (notes lie ${heard.unevenMs} ms off it)`;
  const tuning =
    tuningCents === null || Math.abs(tuningCents) < OUT_OF_TUNE_CENTS
      ? ""
      : `, ${Math.round(Math.abs(tuningCents))} cents ${tuningCents > 0 ? "sharp" : "flat"} as a whole`;
  return `${beat}${tuning}; ${Math.round(heard.soundingSec)} seconds of playing. The notes of this line are in the book only, so they are not judged.`;
}

/** Claps, taps and drums have no pitch: they are not called notes. */
export function strokesOnly({ parts: [{ measures }] }: Score): boolean {
  const sounding = measures.flatMap(({ events }) => events.filter(({ kind }) => kind !== "rest"));
  return sounding.length > 0 && sounding.every(({ pitch }) => !pitch);
}

/** One sentence about a whole take. */
export function takeSentence(assessment: Assessment, forPlayer: boolean, score: Score): string {
  const { status, flags } = assessment.take;
  const you = forPlayer ? "you" : "the player";
  if (status === "too-quiet")
    return "The recording is almost silent. Check that the right microphone is chosen and move closer.";
  if (status === "no-music") return "No playing was heard in this recording.";
  if (status === "no-match")
    return `The bench could not match this with the line${forPlayer ? ". Is it the right one? Your director will listen" : "; it may be another piece. Listen for yourself"}.`;
  if (assessment.byEar) return byEarSentence(assessment.byEar, assessment.take.tuningCents);
  const wrong = assessment.notes.filter((note) => note.verdict !== "ok").length;
  const all = assessment.notes.length;
  const sounds = strokesOnly(score) ? "strokes" : "notes";
  const octave = flags.includes("octave")
    ? ` All of it sounded in another octave than ${you === "you" ? "your part" : "the part"}.`
    : "";
  const bleed = flags.includes("reference-bleed")
    ? " The play-along can be heard as loudly as the player, so a missed note may seem found: use earphones, or turn it down."
    : "";
  return `${all - wrong} of ${all} ${sounds} found.${octave}${bleed}`;
}
