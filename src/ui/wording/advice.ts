import type { CauseKind } from "../../core/progress";

/**
 * What is said to a player about a cause. In braces stands what fills itself: {where} is "Bars 2 and 5", {bar} "bar 2", {note} "the D",
 * {name} "D", {heard} what sounded instead.
 */
export const ADVICE: Readonly<Record<CauseKind, string | null>> = {
  missed: "{where}: leave room for {note}.",
  "bars-left-out": "{where} left out: point along the line once before you play.",
  "repeat-left-out": "{where}: there is a repeat, play it twice.",
  "repeat-too-many": "{where}: no repeat here, go straight on.",
  "key-signature": "{where}: the key signature makes it {name}.",
  semitone: "{where}: check {note}, you played {heard}.",
  partial: "{where}: hear {note} before you play it.",
  octave: "{where}: {note} belongs in the written octave.",
  other: "{where}: {name} is written, you played {heard}.",
  "heard-wrong": "{where}: look at this place once more.",
  doubled: "{where}: one tongue for each note, then let it sound.",
  // What was too many is better told by a director.
  extra: null,
  cracked: "{where}: set the lips and the air before {note}.",
  corrected: "{where}: hear {note} before you play it.",
  squeak: "{where}: keep the air steady and the fingers closed.",
  uneven: "Count the beats aloud and clap the rhythm slowly; then play it as you clapped.",
  early: "{where}: wait for the beat.",
  late: "{where}: keep moving with the beat.",
  short: "{where}: hold {note} to the end.",
  long: "{where}: let {note} go in time.",
  "breath-in-slur": "{where}: breathe before the slur, not inside it.",
  "re-tongued-slur": "{where}: tongue only the first note of the slur.",
  rushing: "Keep the beat of the beginning: tap your foot and do not let it run.",
  dragging: "Keep the beat of the beginning: tap your foot, and breathe without slowing down.",
  accents: "{where}: start the accented notes with more air and play the others softer.",
  "not-short": "{where}: the dots make these notes short, with silence after each.",
  "staccato-slower": "{where}: short notes keep the beat; think the silence after each.",
  dynamics: "{where}: play the difference between soft and loud.",
  hesitation: "Play into {bar} slowly, without the stop, until your fingers know the way.",
  restart: "When something slips near {bar}, keep going; we fix it afterwards.",
  "stopped-early": "Next time play on from {bar} to the end.",
};

/** A kind of error in a few words, for lists and legends. */
export const CAUSE_NAMES: Readonly<Record<CauseKind, string>> = {
  missed: "notes left out",
  "bars-left-out": "bars left out",
  "repeat-left-out": "a repeat left out",
  "repeat-too-many": "a repeat too many",
  "key-signature": "key signature forgotten",
  semitone: "a semitone off",
  partial: "another partial",
  octave: "another octave",
  other: "another note",
  "heard-wrong": "wrong by the director's ear",
  doubled: "notes struck twice",
  extra: "notes too many",
  cracked: "cracked starts",
  corrected: "wrong starts put right",
  squeak: "squeaks",
  uneven: "a rhythm that is not even",
  early: "ahead of the beat",
  late: "behind the beat",
  short: "let go too early",
  long: "held too long",
  "breath-in-slur": "a breath in a slur",
  "re-tongued-slur": "slurs tongued again",
  rushing: "a beat that runs away",
  dragging: "a beat that sags",
  dynamics: "loudness not heard",
  accents: "accents not heard",
  "not-short": "staccato held on",
  "staccato-slower": "short notes slower",
  hesitation: "pauses",
  restart: "begun again",
  "stopped-early": "stopped early",
};

/** Whose words are used: a band's own by the place they stand in, for an instrument before those for all. */
export interface AdviceWords {
  own: Readonly<Record<string, string>>;
  instrumentId: string | null;
}
export const USUAL_WORDS: AdviceWords = { own: {}, instrumentId: null };

/** Where a band's own words for a kind of error stand; for one instrument where it is named. */
export function advicePlace(kind: CauseKind, instrumentId: string | null = null): string {
  return instrumentId === null ? `advice ${kind}` : `advice ${kind} ${instrumentId}`;
}

/** Where a band's own words for a remedy stand. */
export function remedyPlace(id: string): string {
  return `remedy ${id}`;
}

export function adviceTemplate(kind: CauseKind, { own, instrumentId }: AdviceWords): string | null {
  return (
    (instrumentId === null ? undefined : own[advicePlace(kind, instrumentId)]) ??
    own[advicePlace(kind)] ??
    ADVICE[kind]
  );
}

/**
 * Fills the braces of a sentence; what is not known stays as it is typed.
 * @example
 * fillWords("{where}: mind {note}.", { where: "Bar 2", note: "the D" }) // => "Bar 2: mind the D."
 */
export function fillWords(template: string, values: Readonly<Record<string, string>>): string {
  return template.replace(/\{(\w+)\}/g, (whole, name: string) => values[name] ?? whole);
}
