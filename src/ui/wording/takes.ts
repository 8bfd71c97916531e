import type { Assessment, ByEar, NoteVerdict } from "../../core/listen";
import { groupBy } from "../../core/lists";
import { pitchName, spellMidi } from "../../core/music";
import { driftsNoticeably } from "../../core/progress";
import type { Score } from "../../core/score";

/** One thing that asks for an ear: where it is, when it sounds, what happened, and what the player could do. */
export interface Spot {
  place: string;
  atSec: number;
  untilSec: number;
  sentence: string;
  /** A ready comment to the player; null where the director had better say it in own words. */
  advice: string | null;
  /** A wrong or missing note or a break, before what is only uneven. */
  grave: boolean;
  eventId: string | null;
  /** What several of the same kind are told as; alike for what has one cause. */
  together: string;
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

/** Everything in a take that is worth hearing, in playing order. What lies behind an early stop is said once. */
export function spots(assessment: Assessment, score: Score): Spot[] {
  const stopped = assessment.breaks.some((pause) => pause.kind === "stopped-early");
  const reached = stopped
    ? assessment.notes.findLastIndex((note) => note.onset !== null)
    : Number.POSITIVE_INFINITY;
  let lastSec = 0;
  const found = assessment.notes.slice(0, reached + 1).flatMap((note): Spot[] => {
    lastSec = note.onset ?? lastSec;
    const said = noteSentence(note, score);
    if (!said) return [];
    const [sentence, advice, together = sentence] = said;
    return [
      {
        together,
        place: placeName(note),
        atSec: lastSec,
        untilSec: note.offset ?? lastSec + 0.6,
        sentence,
        advice,
        grave: note.verdict !== "ok",
        eventId: note.eventId,
      },
    ];
  });
  for (const extra of assessment.extras) {
    const name = extra.midi === null ? "An extra stroke" : `An extra ${heardName(extra.midi, score)}`;
    found.push({
      place: `at ${clock(extra.onset)}`,
      atSec: extra.onset,
      untilSec: extra.onset + 0.5,
      sentence: `${name} between the written notes.`,
      together: "More notes than are written.",
      advice: null,
      grave: true,
      eventId: null,
    });
  }
  for (const pause of assessment.breaks) {
    const bar = barName(pause.measure);
    const [sentence, advice] = {
      hesitation: [
        `A pause of ${pause.seconds.toFixed(1)} s before going on.`,
        `Play into ${bar} slowly, without the stop, until your fingers know the way.`,
      ],
      restart: [
        `Stopped and began again at ${bar}.`,
        `When something slips near ${bar}, keep going; we fix it afterwards.`,
      ],
      "stopped-early": [
        "Stopped here; the rest was not played.",
        `Next time play on from ${bar} to the end.`,
      ],
    }[pause.kind] as [string, string];
    found.push({
      place: bar,
      together: sentence,
      atSec: pause.atSec,
      untilSec: pause.atSec + Math.max(0.5, pause.seconds),
      sentence,
      advice,
      grave: true,
      eventId: null,
    });
  }
  const drift = driftSpot(assessment);
  return [...found.sort((a, b) => a.atSec - b.atSec), ...(drift ? [drift] : [])];
}

/** A beat that runs away or sags, told once for the whole take. */
function driftSpot(assessment: Assessment): Spot | null {
  if (!driftsNoticeably(assessment)) return null;
  const percent = assessment.take.driftPercent!;
  const onsets = assessment.notes.flatMap(({ onset }) => onset ?? []);
  const by = `${Math.abs(Math.round(percent))} %`;
  const together = percent > 0 ? "The beat ran away." : "The beat sagged.";
  return {
    place: "whole take",
    together,
    atSec: onsets[0] ?? 0,
    untilSec: onsets.at(-1) ?? 0,
    sentence:
      percent > 0
        ? `The beat ran away: ${by} faster at the end than at the start.`
        : `The beat sagged: ${by} slower at the end than at the start.`,
    advice:
      percent > 0
        ? "Keep the beat of the beginning: tap your foot and do not let it run."
        : "Keep the beat of the beginning: tap your foot, and breathe without slowing down.",
    grave: false,
    eventId: null,
  };
}

/** One cause with every place where it is heard. */
export interface Finding {
  sentence: string;
  spots: Spot[];
  /** What is said to the player about all of it. */
  advice: string | null;
}

/** How much a place weighs: a break before a wrong note, a beat that runs away, and that before what is uneven (common practice, no published source). */
const weightOf = ({ grave, place }: Spot) => (grave ? 4 : place === "whole take" ? 6 : 1);

/**
 * What is wrong with a take, each cause once with all its places, the most important first: five naturals for one flat are one
 * finding, and so is a beat that runs away.
 */
export function findings(assessment: Assessment, score: Score): Finding[] {
  const byCause = groupBy(spots(assessment, score), ({ together }) => together);
  const weight = (own: readonly Spot[]) => own.reduce((sum, spot) => sum + weightOf(spot), 0);
  return [...byCause.values()]
    .sort((a, b) => weight(b) - weight(a))
    .map((own) => ({
      sentence: own.length === 1 ? own[0]!.sentence : own[0]!.together,
      spots: own,
      advice: adviceOf(own),
    }));
}

/** "Bars 2, 3 and 5: the key signature makes it E♭." */
function adviceOf(own: readonly Spot[]): string | null {
  const said = own.flatMap(({ advice }) => advice ?? []);
  if (said.length < 2) return said[0] ?? null;
  const parts = said.map((text) => /^(Bar \S+|Pickup): (.*)$/.exec(text));
  if (parts.some((part) => part === null || part[2] !== parts[0]![2])) return said[0]!;
  const bars = [...new Set(parts.map((part) => part![1]!.replace("Bar ", "")))];
  if (bars.length === 1) return said[0]!;
  const names = `${bars.slice(0, -1).join(", ")} and ${bars.at(-1)}`;
  return `${bars[0] === "Pickup" ? "" : "Bars "}${names}: ${parts[0]![2]}`;
}

/** What a player is told of a take: the few most helpful sentences, one a cause, the most important first. */
export function helpfulAdvice(found: readonly Finding[], most = 3): string[] {
  return [...new Set(found.flatMap(({ advice }) => advice ?? []))].slice(0, most);
}

/** What happened to one note, and what to say about it; null when nothing asks for an ear. */
function noteSentence(
  note: NoteVerdict,
  score: Score,
): [sentence: string, advice: string, together?: string] | null {
  const written = writtenName(note.eventId, score);
  const bar = barName(note.measure).replace(/^./, (letter) => letter.toUpperCase());
  if (note.verdict === "missed") {
    return written === "the note"
      ? ["A stroke was not played.", `${bar}: one stroke is missing.`]
      : [`${written} was not played.`, `${bar}: leave room for the ${written}.`];
  }
  if (note.verdict === "wrong-pitch") {
    const heard = heardName(note.playedMidi!, score);
    const told: Record<NonNullable<NoteVerdict["kind"]>, [string, string]> = {
      "key-signature": [
        `${heard} natural where the key makes it ${written}.`,
        `${bar}: the key signature makes it ${written}.`,
      ],
      semitone: [
        `${heard} instead of ${written}, a semitone off.`,
        `${bar}: check the ${written}, you played ${heard}.`,
      ],
      partial: [
        `${heard} instead of ${written}: the same fingering, another partial.`,
        `${bar}: hear the ${written} before you play it.`,
      ],
      octave: [`${written} in another octave.`, `${bar}: the ${written} belongs in the written octave.`],
      other: [`${heard} instead of ${written}.`, `${bar}: ${written} is written, you played ${heard}.`],
    };
    return told[note.kind ?? "other"];
  }
  if (note.flags.includes("cracked-attack"))
    return [
      `The start of ${written} cracked.`,
      `${bar}: set the lips and the air before the ${written}.`,
      "Starts that cracked.",
    ];
  if (note.timing === "early")
    return [
      `Ahead of the player's own beat by ${Math.abs(note.timingMs!)} ms.`,
      `${bar}: wait for the beat.`,
      "Ahead of the player's own beat.",
    ];
  if (note.timing === "late")
    return [
      `Behind the player's own beat by ${note.timingMs} ms.`,
      `${bar}: keep moving with the beat.`,
      "Behind the player's own beat.",
    ];
  const share = Math.round(100 * (note.lengthRatio ?? 0));
  if (note.length === "short")
    return [
      `${written} let go after ${share} % of its length.`,
      `${bar}: hold the ${written} for its whole length.`,
      "Notes let go too early.",
    ];
  if (note.length === "long")
    return [
      `${written} held ${share} % of its length.`,
      `${bar}: let the ${written} go in time.`,
      "Notes held too long.",
    ];
  if (note.flags.includes("squeak"))
    return [
      `${written} squeaked.`,
      `${bar}: keep the air steady and the fingers closed on the ${written}.`,
      "Squeaks.",
    ];
  if (note.flags.includes("breath-in-slur"))
    return ["A breath inside the slur.", `${bar}: breathe before the slur, not inside it.`];
  if (note.flags.includes("re-tongued-slur"))
    return ["Tongued inside the slur.", `${bar}: tongue only the first note of the slur.`];
  return null;
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

/** One sentence about a whole take. */
export function takeSentence(assessment: Assessment, forPlayer: boolean): string {
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
  const octave = flags.includes("octave")
    ? ` All of it sounded in another octave than ${you === "you" ? "your part" : "the part"}.`
    : "";
  const bleed = flags.includes("reference-bleed")
    ? " The play-along can be heard as loudly as the player, so a missed note may seem found: use earphones, or turn it down."
    : "";
  return `${all - wrong} of ${all} notes found.${octave}${bleed}`;
}
