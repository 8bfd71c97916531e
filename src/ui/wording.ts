import type { Assessment, NoteVerdict } from "../core/listen";
import { pitchName, spellMidi } from "../core/music";
import type { Score } from "../core/score";

/** One thing that asks for an ear: where it is, when it sounds, and a sentence. */
export interface Spot {
  place: string;
  atSec: number;
  untilSec: number;
  sentence: string;
  eventId: string | null;
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

export function placeName(note: { measure: string; beat: number }): string {
  const beat = Number.isInteger(note.beat) ? String(note.beat) : `${Math.floor(note.beat)} and`;
  return note.measure === "0" ? `pickup, beat ${beat}` : `bar ${note.measure}, beat ${beat}`;
}

/** Everything in a take that is worth hearing, in playing order. */
export function spots(assessment: Assessment, score: Score): Spot[] {
  const found: Spot[] = [];
  let lastSec = 0;
  for (const note of assessment.notes) {
    const sentence = noteSentence(note, score);
    lastSec = note.onset ?? lastSec;
    if (sentence)
      found.push({
        place: placeName(note),
        atSec: lastSec,
        untilSec: note.offset ?? lastSec + 0.6,
        sentence,
        eventId: note.eventId,
      });
  }
  for (const extra of assessment.extras) {
    const name = extra.midi === null ? "An extra stroke" : `An extra ${heardName(extra.midi, score)}`;
    found.push({
      place: `at ${clock(extra.onset)}`,
      atSec: extra.onset,
      untilSec: extra.onset + 0.5,
      sentence: `${name} between the written notes.`,
      eventId: null,
    });
  }
  for (const pause of assessment.breaks) {
    const bar = pause.measure === "0" ? "the pickup" : `bar ${pause.measure}`;
    const sentence = {
      hesitation: `A pause of ${pause.seconds.toFixed(1)} s before going on.`,
      restart: `Stopped and began again at ${bar}.`,
      "stopped-early": `Stopped here; the rest was not played.`,
    }[pause.kind];
    found.push({
      place: bar,
      atSec: pause.atSec,
      untilSec: pause.atSec + Math.max(0.5, pause.seconds),
      sentence,
      eventId: null,
    });
  }
  const stopped = assessment.breaks.find((pause) => pause.kind === "stopped-early");
  return found
    .filter(
      (spot) =>
        !stopped ||
        spot.eventId === null ||
        spot.atSec < stopped.atSec - 0.01 ||
        !spot.sentence.endsWith("not played."),
    )
    .sort((a, b) => a.atSec - b.atSec);
}

function noteSentence(note: NoteVerdict, score: Score): string | null {
  const written = writtenName(note.eventId, score);
  if (note.verdict === "missed") return `${written === "the note" ? "A stroke" : written} was not played.`;
  if (note.verdict === "wrong-pitch") {
    const heard = heardName(note.playedMidi!, score);
    return {
      "key-signature": `${heard} natural where the key makes it ${written}.`,
      semitone: `${heard} instead of ${written}, a semitone off.`,
      partial: `${heard} instead of ${written}: the same fingering, another partial.`,
      octave: `${written} in another octave.`,
      other: `${heard} instead of ${written}.`,
    }[note.kind ?? "other"];
  }
  if (note.flags.includes("cracked-attack")) return `The start of ${written} cracked.`;
  if (note.timing === "early") return `Ahead of the own beat by ${Math.abs(note.timingMs!)} ms.`;
  if (note.timing === "late") return `Behind the own beat by ${note.timingMs} ms.`;
  if (note.length === "short")
    return `${written} let go after ${Math.round(100 * note.lengthRatio!)} % of its length.`;
  if (note.length === "long")
    return `${written} held ${Math.round(100 * note.lengthRatio!)} % of its length.`;
  if (note.flags.includes("breath-in-slur")) return "A breath inside the slur.";
  if (note.flags.includes("re-tongued-slur")) return "Tongued inside the slur.";
  return null;
}

/** "0:07.4" */
export function clock(seconds: number): string {
  return `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, "0")}`;
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
  const wrong = assessment.notes.filter((note) => note.verdict !== "ok").length;
  const all = assessment.notes.length;
  const octave = flags.includes("octave")
    ? ` All of it sounded in another octave than ${you === "you" ? "your part" : "the part"}.`
    : "";
  return `${all - wrong} of ${all} notes found.${octave}`;
}
