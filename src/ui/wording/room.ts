import type { FingerMoves, Help, Improvement, Judged, Leg, LookQuestion, Place } from "../../core/practice";
import { changedLetters, type PracticeStep } from "../../core/practice";
import type { Snag } from "../../core/score";
import { snagReason } from "./snags";

/** Short names of the steps for the row over the music. */
export const STEP_SHORT: Record<PracticeStep, string> = {
  listen: "listen",
  ear: "which is right",
  look: "look",
  count: "count",
  sing: "sing",
  finger: "say",
  "one-note": "one note",
  tongue: "tongue",
  slow: "slow",
  snags: "snag",
  whole: "whole",
  ladder: "faster",
  accompaniment: "with the band",
  record: "record",
  perform: "for somebody",
};

const bars = ({ from, to }: Pick<Place, "from" | "to">, numberOf: (index: number) => string) => {
  const [a, b] = [numberOf(from), numberOf(to)];
  if (a === b) return a === "0" ? "The pickup" : `Bar ${a}`;
  return a === "0" ? `Pickup to bar ${b}` : `Bars ${a} to ${b}`;
};

/** What is to be done now, as a heading. */
export function legTitle(
  leg: Leg,
  place: Place,
  numberOf: (index: number) => string,
  how: "brass" | "woodwind" | "other",
): string {
  switch (leg.step) {
    case "listen":
      return "Hear how it goes";
    case "ear":
      return "Which one is right?";
    case "look":
      return "Look before you play";
    case "count":
      return "Count it and clap it";
    case "sing":
      return "Sing it";
    case "finger":
      return how === "brass" ? "Say valves or positions and move them" : "Say the names and finger them";
    case "one-note":
      return "Its rhythm on one note";
    case "tongue":
      return place.kind === "tongued" ? "Tongue every note" : "Now with the slurs";
    case "slow":
      return place.from === 0 && leg.places.at(-1) === place
        ? "All of it, slowly"
        : `${bars(place, numberOf)}, slowly`;
    case "snags":
      return place.kind === "joined"
        ? `${bars(place, numberOf)}: put it back`
        : `${bars(place, numberOf)} in a loop`;
    case "whole":
      return "The whole line";
    case "ladder":
      return "A little faster, step by step";
    case "accompaniment":
      return "With the band";
    case "record":
      return "Record it";
    case "perform":
      return "Play it for somebody";
  }
}

/** Why this is done, in a sentence a child reads. */
export function legReason(leg: Leg, place: Place): string {
  switch (leg.step) {
    case "listen":
      return "Eyes on the notes while it sounds.";
    case "ear":
      return "One of two has something wrong in it. What you can hear you can mend.";
    case "look":
      return "A minute of looking saves ten of guessing.";
    case "count":
      return "Tap your foot, count aloud, clap every note.";
    case "sing":
      return "What you can sing you can play. Move your fingers or slide along.";
    case "finger":
      return "No sound yet. Your fingers learn it first.";
    case "one-note":
      return "Only the rhythm counts. Slurred notes become one long note.";
    case "tongue":
      return place.kind === "tongued"
        ? "Fingers and tongue together, on every note."
        : "The same even fingers, and one air for each slur.";
    case "slow":
      return "So slow that it is right. Two clean rounds lead on.";
    case "snags":
      if (place.kind === "joined") return "The same bars with their neighbours. Do not stop before them.";
      return place.why === "last-take" ? "Your last take slipped here." : snagWhy(place.why);
    case "whole":
      return "From the first note to the last, without stopping.";
    case "ladder":
      return "Two clean rounds move you up, two poor ones down.";
    case "accompaniment":
      return "Wear headphones. Listen to the others while you play.";
    case "record":
      return "One take, start to end. You can play it again as often as you like.";
    case "perform":
      return "Somebody at home, a friend, or the cat.";
  }
}

function snagWhy(snag: Snag | null): string {
  return snag ? `${snagReason(snag)}.`.replace(/\.\.$/, ".") : "A place where many stumble.";
}

/** What came of a round, in one sentence. */
export function outcomeSentence({ outcome, notes, clean, wrong, tooMany, status }: Judged): string {
  if (outcome === null) {
    if (status === "too-quiet") return "Nothing was loud enough to hear. Play nearer to the microphone.";
    return status === "assessed"
      ? "Your device left too much of that out. It does not count: close other programs and play it again."
      : "That could not be heard as this line. It does not count.";
  }
  if (status === "no-match") return "That was not this line. Look at the first note, then try again.";
  if (outcome === "clean")
    return clean === notes ? `Clean: all ${notes} notes.` : `Clean: ${clean} of ${notes} notes.`;
  const beside = tooMany > 0 ? `, and ${tooMany} too many` : "";
  if (outcome === "nearly") return `Nearly: ${clean} of ${notes} notes were right and in time${beside}.`;
  return wrong > 0
    ? `${clean} of ${notes} notes were right. Take it slower.`
    : "The beat got lost. Take it slower.";
}

/** How far it is to the next place. */
export function cleanSoFar(clean: number, passes: number): string {
  if (passes <= 1) return "One clean round leads on.";
  if (clean === 0) return `${passes === 2 ? "Two" : passes} clean rounds in a row lead on.`;
  return clean === 1 ? "One clean so far." : `${clean} clean so far.`;
}

export const HELP_NAMES: Record<Help, string> = {
  smaller: "Fewer bars",
  slower: "Slower",
  change: "Only the change of two notes",
  fingers: "Fingers only",
  rest: "Rest a minute",
  another: "Another line first",
  tomorrow: "Leave it for tomorrow",
};

/** A question of the look, and how a choice reads. */
export function lookText(question: LookQuestion): string {
  switch (question.kind) {
    case "key":
      return "Which notes does the sign at the start of the line change?";
    case "find":
      return question.eventIds.length === 1
        ? `${question.note} is new. Tap it in the music.`
        : `${question.note} is new. Tap all ${question.eventIds.length} of them in the music.`;
    case "beats":
      return `Bar ${question.measure}: how many beats does the ${question.note} last?`;
    case "often":
      return `Bar ${question.measure}: how often does ${question.note} come?`;
    case "same":
      return `Which bar is the same as bar ${question.measure}?`;
  }
}

export function lookChoice(question: LookQuestion, choice: number | string): string {
  switch (question.kind) {
    case "key": {
      const fifths = Number(choice);
      const letters = changedLetters(fifths);
      if (letters.length === 0) return "none";
      return letters.map((letter) => `${letter}${fifths < 0 ? "♭" : "♯"}`).join(", ");
    }
    case "beats":
      return { 0.5: "half a beat", 1: "1 beat", 1.5: "1 and a half" }[Number(choice)] ?? `${choice} beats`;
    case "often":
      return choice === 1 ? "once" : `${choice} times`;
    default:
      return `bar ${choice}`;
  }
}

/** What a sign or rhythm means, one sentence each; nothing for what explains itself. */
const MEANINGS: Record<string, string> = {
  "breath mark": "Take a quick breath here.",
  slur: "Tongue the first note only; the air goes on.",
  tie: "Two notes of one pitch held as one.",
  repeat: "Play this part again.",
  endings: "Play the first ending, go back, then skip to the second.",
  fermata: "Hold it until your director lets go.",
  staccato: "Short, with space after it.",
  accent: "Begin it stronger.",
  tenuto: "Hold it for its full length.",
  marcato: "Strong and a little short.",
  p: "Soft.",
  mp: "A little soft.",
  mf: "A little loud.",
  f: "Loud.",
  ff: "Very loud.",
  pp: "Very soft.",
  "D.C.": "Go back to the beginning.",
  "D.S.": "Go back to the sign.",
  Fine: "The end, when you come here again.",
  Coda: "Jump to the ending that is marked so.",
  pickup: "The line begins before its first full bar.",
  "dotted half": "Three beats.",
  "dotted quarter": "One beat and a half.",
  whole: "Four beats.",
  half: "Two beats.",
  quarter: "One beat.",
  eighth: "Half a beat.",
  "16th": "A quarter of a beat.",
  "whole rest": "Silence for a whole bar.",
  "half rest": "Silence for two beats.",
  "quarter rest": "Silence for one beat.",
  "eighth rest": "Silence for half a beat.",
  triplet: "Three notes in the time of two.",
  "grace note": "A quick note just before the beat.",
  "4/4": "Four beats in a bar.",
  "3/4": "Three beats in a bar.",
  "2/4": "Two beats in a bar.",
  "2/2": "Two slow beats in a bar.",
  "6/8": "Two beats in a bar, three eighths in each.",
};

export function meaningOf(name: string): string {
  if (MEANINGS[name]) return MEANINGS[name];
  if (name.startsWith("key of ")) return `The signs at the start make it the ${name}.`;
  return "";
}

const FINGER_NAMES = [
  "left index",
  "left middle",
  "left ring",
  "right index",
  "right middle",
  "right ring",
] as const;

/** What stays and what moves from one note to another, in a few short sentences. */
export function movesText(moves: FingerMoves, kind: "holes" | "valves" | "slide"): string[] {
  const fingers = (which: readonly number[]) =>
    kind === "valves"
      ? `${which.length === 1 ? "valve" : "valves"} ${which.join(" and ")}`
      : list(which.map((each) => FINGER_NAMES[each - 1] ?? String(each)));
  const said: string[] = [];
  if (moves.slide) {
    const [from, to] = moves.slide;
    said.push(
      from === to ? `The slide stays in position ${from}.` : `The slide goes from position ${from} to ${to}.`,
    );
  }
  if (moves.stay.length > 0 && moves.down.length + moves.up.length > 0)
    said.push(`Stays down: ${fingers(moves.stay)}.`);
  if (moves.down.length > 0) said.push(`Goes down: ${fingers(moves.down)}.`);
  if (moves.up.length > 0) said.push(`Comes up: ${fingers(moves.up)}.`);
  if (moves.thumb === "down") said.push("The thumb goes down.");
  if (moves.thumb === "up") said.push("The thumb comes up.");
  if (moves.register === "down") said.push("Add the register or octave key.");
  if (moves.register === "up") said.push("Let go of the register or octave key.");
  if (moves.keysDown.length > 0) said.push(`Add ${list(moves.keysDown)}.`);
  if (moves.keysUp.length > 0) said.push(`Let go of ${list(moves.keysUp)}.`);
  const still = moves.down.length + moves.up.length === 0 && !moves.slide;
  if (moves.partials !== 0)
    said.push(
      `${still ? "The same fingering. " : ""}Lips and air go ${moves.partials > 0 ? "higher: faster air" : "lower: slower, warmer air"}.`,
    );
  return said.length > 0 ? said : ["The same fingering: only the air changes."];
}

function list(names: readonly string[]): string {
  return names.length < 2 ? (names[0] ?? "") : `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;
}

/** What got better today, one sentence each. */
export function improvementText({ kind, from, to }: Improvement): string {
  switch (kind) {
    case "tempo":
      return `Clean at ${to} bpm; before today it was ${from}.`;
    case "clean":
      return to === 1 ? "Your first clean round." : `${to} clean rounds.`;
    case "tone":
      return from > 0
        ? `Your longest tone: ${to.toFixed(1)} s, before ${from.toFixed(1)} s.`
        : `A tone of ${to.toFixed(1)} s.`;
    case "change":
      return to === 0
        ? "A change of two notes is in time now."
        : `A change of two notes with ${to} s before it.`;
  }
}
