import { type Assessment, type ByEar, wasRecorded } from "../../core/listen";
import { pitchName, spellMidi } from "../../core/music";
import { type Cause, type CausePlace, causesOf, recordedNotes } from "../../core/progress";
import type { Score } from "../../core/score";
import { type AdviceWords, adviceTemplate, fillWords, USUAL_WORDS } from "./advice";
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
  /** How often it happened; a stretch of bars is one. */
  times: number;
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
 * @param words  the band's own words for what is said to a player
 */
export function findings(assessment: Assessment, score: Score, words: AdviceWords = USUAL_WORDS): Finding[] {
  return causesOf(assessment, score).map((cause) => ({
    cause,
    times: isOfBars(cause.kind) ? 1 : cause.places.length,
    spots: spotted(cause).map((place) => spotOf(cause, place)),
    ...told(cause, score, words),
  }));
}

/** Bars that were left out stand once each, whatever was in them. */
function spotted({ kind, places }: Cause): CausePlace[] {
  if (!isOfBars(kind)) return places;
  return places.filter(({ measure }, i) => measure !== places[i - 1]?.measure);
}

const isOfBars = (kind: Cause["kind"]) =>
  kind === "bars-left-out" || kind === "repeat-left-out" || kind === "repeat-too-many";

function spotOf({ kind }: Cause, { measure, beat, atSec, untilSec, eventId, noteIndex }: CausePlace): Spot {
  const place =
    kind === "rushing" || kind === "dragging"
      ? `from ${barName(measure)} on`
      : isOfBars(kind)
        ? barName(measure)
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
  const names = barNames(places);
  return names[0]!.toUpperCase() + names.slice(1);
}

/** A stretch of bars: "bar 5", "bars 5 and 6", "bars 5 to 8"; as the beginning of a sentence with its verb. */
export function barStretch(places: readonly { measure: string }[], begins = false): string {
  const [first, last] = [barName(places[0]!.measure), barName(places.at(-1)!.measure)];
  const bars = new Set(places.map(({ measure }) => measure)).size;
  const one = bars === 1;
  const until = bars === 2 ? "and" : "to";
  const words = one
    ? first
    : first === "pickup"
      ? `pickup ${until} ${last}`
      : `${first.replace("bar", "bars")} ${until} ${last.replace("bar ", "")}`;
  return begins ? `${words[0]!.toUpperCase()}${words.slice(1)} ${one ? "was" : "were"}` : words;
}

/** Names of the notes at some places, each once: "D and F". */
export function namesOf(places: readonly CausePlace[], score: Score): string {
  return nameList([
    ...new Set(places.map(({ eventId }) => (eventId ? writtenName(eventId, score) : "a note"))),
  ]);
}

/** "bar 5", "bars 2, 3 and 5", "pickup". */
function barNames(places: readonly { measure: string }[]): string {
  const bars = [...new Set(places.map(({ measure }) => barName(measure).replace("bar ", "")))];
  const names = nameList(bars);
  return bars[0] === "pickup" ? names : `${bars.length === 1 ? "bar" : "bars"} ${names}`;
}

/** What a director reads of a cause, and what may be said to the player about it. */
function told(cause: Cause, score: Score, words: AdviceWords): Pick<Finding, "sentence" | "advice"> {
  const { kind, places, written, playedMidi } = cause;
  const [first] = places;
  const one = places.length === 1;
  const sound = strokesOnly(score) ? "stroke" : "note";
  const name =
    first!.eventId && one
      ? writtenName(first!.eventId, score)
      : written
        ? pitchName(written, false)
        : "the note";
  const heard = playedMidi === null ? "" : heardName(playedMidi, score);
  const named = name !== "the note" && (one || written !== null);
  const template = adviceTemplate(kind, words);
  const advice =
    template &&
    fillWords(template, {
      where: barsOf(places),
      bar: barName(first!.measure),
      name,
      note: named ? `the ${name}` : one ? `the ${sound}` : `the ${sound}s`,
      heard,
    });
  const said: Said = { one, name, names: namesOf(places, score), heard, sound, amount: first!.amount ?? 0 };
  return { sentence: sentenceOf(cause, said), advice };
}

interface Said {
  one: boolean;
  name: string;
  /** Every note it happened to, each name once. */
  names: string;
  heard: string;
  sound: "note" | "stroke";
  amount: number;
}

function sentenceOf(
  { kind, places, written }: Cause,
  { one, name, names, heard, sound, amount }: Said,
): string {
  const bar = barName(places[0]!.measure);
  switch (kind) {
    case "missed":
      return written
        ? `${name} was not played.`
        : one
          ? `A ${sound} was not played.`
          : `${sound === "note" ? "Notes" : "Strokes"} were not played.`;
    case "bars-left-out":
      return `${barStretch(places, true)} left out.`;
    case "repeat-left-out":
      return `The repeat of ${barStretch(places)} was not played.`;
    case "repeat-too-many":
      return `${barStretch(places, true)} played twice, with no repeat written.`;
    case "key-signature":
      return `${heard} natural where the key makes it ${name}.`;
    case "semitone":
      return `${heard} instead of ${name}, a semitone off.`;
    case "partial":
      return `${heard} instead of ${name}: the same fingering, another partial.`;
    case "octave":
      return `${name} in another octave.`;
    case "other":
      return `${heard} instead of ${name}.`;
    case "heard-wrong":
      return "Not right, by your own ear.";
    case "doubled":
      return `${names} struck twice.`;
    case "extra":
      return one ? `A ${sound} too many, between the written ones.` : `More ${sound}s than are written.`;
    case "cracked":
      return one ? `The start of ${name} cracked.` : "Starts that cracked.";
    case "corrected":
      return one ? `${name} was another note at first, then put right.` : "Wrong starts that were put right.";
    case "squeak":
      return one ? `${name} squeaked.` : "Squeaks.";
    case "uneven":
      return "The rhythm is not even: these lie off any beat of the player's.";
    case "early":
      return `Ahead of the player's own beat${one ? ` by ${Math.abs(amount)} ms` : ""}.`;
    case "late":
      return `Behind the player's own beat${one ? ` by ${amount} ms` : ""}.`;
    case "short":
      return one
        ? `${name} let go after ${Math.round(100 * amount)} % of its length.`
        : "Notes let go too early.";
    case "long":
      return one ? `${name} held ${Math.round(100 * amount)} % of its length.` : "Notes held too long.";
    case "breath-in-slur":
      return "A breath inside the slur.";
    case "re-tongued-slur":
      return "Tongued inside the slur.";
    case "rushing":
      return `The beat ran away from ${bar} on: ${Math.round(amount)} % faster at the end than at the start.`;
    case "dragging":
      return `The beat sagged from ${bar} on: ${Math.round(-amount)} % slower at the end than at the start.`;
    case "dynamics":
      return one
        ? `The change of loudness was not heard (${amount.toFixed(1)} dB).`
        : "Changes of loudness were not heard.";
    case "accents":
      return `The accents do not stand out: ${amount.toFixed(1)} dB above the notes beside them.`;
    case "not-short":
      return one
        ? `${name} has a dot and was held ${Math.round(100 * amount)} % of its length.`
        : "Notes with a dot were held on.";
    case "staccato-slower":
      return `The staccato goes ${Math.round(amount)} % slower than the rest.`;
    case "hesitation":
      return `A pause of ${amount.toFixed(1)} s before going on.`;
    case "restart":
      return `Stopped and began again at ${bar}.`;
    case "stopped-early":
      return "Stopped here; the rest was not played.";
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

/** Less than this is not worth a word, seconds. */
const LEAST_LEFT_OUT_SEC = 0.02;

/**
 * What is said when a busy device left sound out of a recording.
 * @param leftOutSec  how much in all; null where only the notes know of it
 * @returns null when nothing was left out that matters
 */
export function leftOutSentence(
  assessment: Assessment | null,
  leftOutSec: number | null,
  forPlayer: boolean,
): string | null {
  const notes = assessment?.notes.filter((note) => !wasRecorded(note)) ?? [];
  if (notes.length === 0 && (leftOutSec ?? 0) < LEAST_LEFT_OUT_SEC) return null;
  const tooMuch = notes.length > 0 && recordedNotes(assessment!.notes).length === 0;
  if (forPlayer)
    return notes.length === 0 || tooMuch
      ? null
      : `Your device left some sound out in ${barNames(notes)}. That does not count against you.`;
  const sound = leftOutSec === null ? "some sound" : `${Math.max(0.1, leftOutSec).toFixed(1)} s of sound`;
  if (tooMuch)
    return `The player's device left out ${sound}: too much to count this take. Listen, or ask for it once more.`;
  return notes.length === 0
    ? `The player's device left out ${sound}. No verdict hangs on it.`
    : `The player's device left out ${sound}: what is missing in ${barNames(notes)} is not held against the player.`;
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
  const notes = recordedNotes(assessment.notes);
  if (assessment.notes.length > 0 && notes.length === 0)
    return forPlayer
      ? "Your device left out too much of this take. Close other programs and record it once more."
      : "The device left out too much of this take to count it. Listen, or have it played once more.";
  const wrong = notes.filter((note) => note.verdict !== "ok").length;
  const all = notes.length;
  const sounds = strokesOnly(score) ? "strokes" : "notes";
  const octave = flags.includes("octave")
    ? ` All of it sounded in another octave than ${you === "you" ? "your part" : "the part"}.`
    : "";
  const bleed = flags.includes("reference-bleed")
    ? " The play-along can be heard as loudly as the player, so a missed note may seem found: use earphones, or turn it down."
    : "";
  const uneven = flags.includes("uneven") ? " They are not in an even rhythm." : "";
  return `${all - wrong} of ${all} ${sounds} found.${uneven}${octave}${bleed}`;
}
