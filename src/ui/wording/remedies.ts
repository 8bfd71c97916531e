import type { Family } from "../../core/music";
import type { CauseKind } from "../../core/progress";

/** What helps against something that is heard: likely causes, what to try, how a helper finds out, what to mind. */
export interface Remedy {
  id: string;
  /** Instruments it is for; every one when left out. */
  families?: readonly Family[];
  kinds: readonly CauseKind[];
  symptom: string;
  causes: readonly string[];
  /** What to try, the likeliest first; the first is what is said to the player. */
  tries: readonly string[];
  /** How somebody beside the player finds the cause. */
  helper?: string;
  caution?: string;
}

const REEDS: readonly Family[] = ["clarinets", "saxes"];
const BRASS: readonly Family[] = ["high brass", "low brass"];
const STRUCK: readonly Family[] = ["mallets", "drums"];

/** Advice that teachers of beginners commonly give (common practice, no published source); a band may put its own words in its place. */
export const REMEDIES: readonly Remedy[] = [
  {
    id: "clarinet-squeak",
    families: ["clarinets"],
    kinds: ["squeak", "other"],
    symptom: "Squeaks, or a note far above the written one",
    causes: [
      "a finger does not cover its hole",
      "the right first finger touches a side key",
      "the reed has slipped or is chipped",
      "too much of the mouthpiece in the mouth",
    ],
    tries: [
      "Press each finger until you can see the ring of the hole on it.",
      "Look at the reed: straight, level with the tip, no chip.",
      "Keep the chin flat and take a little less mouthpiece.",
    ],
    helper:
      "Somebody else closes the holes while the player only blows: if it is clean then, it is the fingers.",
  },
  {
    id: "sax-squeak",
    families: ["saxes"],
    kinds: ["squeak"],
    symptom: "Squeaks and chirps",
    causes: ["the palm touches a key", "biting on the reed", "a dry or chipped reed"],
    tries: [
      "Hold the hands round, as if around a ball, away from the palm keys.",
      "Wet the reed and think of saying oh inside the mouth.",
    ],
    helper: "Somebody presses nothing but watches the left palm while the note squeaks.",
  },
  {
    id: "reed-octave",
    families: ["saxes"],
    kinds: ["octave", "partial"],
    symptom: "Low notes jump up an octave",
    causes: ["a tight throat or a bite", "the thumb rests on the octave key", "a pad that does not close"],
    tries: [
      "Blow warm, slow air and drop the jaw a little.",
      "Look where the left thumb is before the note.",
    ],
    helper:
      "Somebody presses the key of the low note a little firmer: if it speaks then, a pad leaks and belongs in a workshop.",
  },
  {
    id: "flute-octave",
    families: ["flutes"],
    kinds: ["octave", "partial"],
    symptom: "The note comes an octave too high",
    causes: ["air too fast and too high", "an opening of the lips that is too small"],
    tries: ["Aim the air lower, into the far wall, and make the opening of the lips larger."],
    caution: "Whoever gets dizzy puts the flute down and breathes quietly for a minute.",
  },
  {
    id: "flute-missed",
    families: ["flutes"],
    kinds: ["missed", "cracked"],
    symptom: "A note does not speak, or only air is heard",
    causes: ["the hole is turned too far in or out", "the lower lip has moved"],
    tries: ["Find the place again on the head joint alone, then put the flute together."],
    helper: "Somebody holds the end of the flute level: a tired arm turns the hole away.",
  },
  {
    id: "double-reed-crack",
    families: ["double reeds"],
    kinds: ["cracked", "missed", "squeak"],
    symptom: "Attacks that croak or do not speak",
    causes: ["a reed that is dry or too closed", "air that comes after the tongue"],
    tries: ["Soak the reed a little longer, and let the air wait behind the tongue before you let go."],
    helper: "Let the reed crow alone: a healthy one sounds more than one note.",
  },
  {
    id: "double-reed-octave",
    families: ["double reeds"],
    kinds: ["octave", "partial"],
    symptom: "The wrong octave",
    causes: ["the half hole is forgotten or closed", "the lips pinch"],
    tries: ["Roll the first finger for the half hole before you blow, then check the note with the tuner."],
  },
  {
    id: "brass-crack",
    families: BRASS,
    kinds: ["cracked"],
    symptom: "Attacks that crack",
    causes: [
      "the note is not heard before it is played",
      "the air starts after the tongue",
      "lips that are tired",
    ],
    tries: [
      "Sing the note, buzz it on the mouthpiece, then play it.",
      "Breathe in time and let the air go with the tongue, like a hot tah.",
    ],
    helper: "Somebody plays the note first; if it is clean after it, it was the ear and not the lips.",
    caution: "Tired lips rest as long as they have played. Nobody plays through pain.",
  },
  {
    id: "brass-partial",
    families: BRASS,
    kinds: ["partial", "octave"],
    symptom: "The same fingering, a neighbouring note",
    causes: ["lips too tight or too loose for it", "air too slow or too fast", "the note is not in the ear"],
    tries: ["Slide up and down between the two notes on one fingering, slurred, then land on the right one."],
    helper: "Somebody sings the note while the player buzzes towards it.",
  },
  {
    id: "brass-water",
    families: BRASS,
    kinds: ["extra", "cracked", "squeak"],
    symptom: "A gurgle, or a rough note that comes and goes",
    causes: ["water in the tube"],
    tries: ["Empty the water key without a sound; on a horn turn the instrument until it runs out."],
    helper: "Blow without a note: what gurgles is water.",
  },
  {
    id: "wood-water",
    families: ["clarinets", "flutes", "double reeds"],
    kinds: ["squeak", "extra"],
    symptom: "One note hisses or gurgles",
    causes: ["water in a tone hole"],
    tries: ["Blow the hole free, then dry the pad with thin paper; swab the instrument afterwards."],
    helper: "Play the note below and above: only the one with water hisses.",
  },
  {
    id: "trombone-slide",
    families: ["low brass"],
    kinds: ["semitone", "other"],
    symptom: "A note lies between the notes",
    causes: ["the slide stops too early", "the position was not found by ear", "valves pressed halfway"],
    tries: ["Find the place against the bell, listen, and correct it while the note sounds."],
  },
  {
    id: "reed-flat",
    families: REEDS,
    kinds: ["semitone"],
    symptom: "A semitone beside the note",
    causes: [
      "a little finger on the wrong key",
      "a side or palm key that is touched",
      "a forgotten flat or sharp",
    ],
    tries: ["Say the name of the note and finger it silently before you play it."],
  },
  {
    id: "key-signature",
    kinds: ["key-signature"],
    symptom: "The key signature is forgotten",
    causes: ["it was read once and not kept in mind", "the finger knows the other note better"],
    tries: [
      "Say the names of all notes of the line aloud, with their flats and sharps.",
      "Pencil the sign before the first note that needs it, never before all.",
    ],
  },
  {
    id: "rushing",
    kinds: ["rushing", "early"],
    symptom: "The music runs away",
    causes: ["easy bars are played faster than hard ones", "rests and long notes are not counted"],
    tries: ["Tap the foot, count the small notes aloud, and begin so slowly that the hardest bar is easy."],
    helper: "Somebody claps the beat behind the player, who may not look.",
  },
  {
    id: "dragging",
    kinds: ["dragging", "late"],
    symptom: "The beat sags",
    causes: ["breaths that take their time from the next note", "fingers that decide too late"],
    tries: ["Breathe in rhythm: the last part of the note before gives the time."],
  },
  {
    id: "uneven",
    kinds: ["uneven"],
    symptom: "The rhythm is not even",
    causes: ["the beat is not felt before the first note", "long notes are guessed and not counted"],
    tries: [
      "Clap the rhythm while the foot taps and the voice counts; then play it on one note.",
      "Write the counts under one bar that goes wrong, and point at each beat.",
    ],
    helper: "Somebody taps a steady beat on the player's shoulder or on the stand.",
  },
  {
    id: "hesitation",
    kinds: ["hesitation", "restart"],
    symptom: "Stops before a place, or begins again",
    causes: ["one change of fingering that is not sure", "the eye is not a beat ahead"],
    tries: [
      "Take the two notes around the stop and change between them: six seconds each, then five, then four.",
    ],
  },
  {
    id: "stopped",
    kinds: ["stopped-early"],
    symptom: "The end is not reached",
    causes: ["the tempo is too fast for the end", "lips or breath are used up"],
    tries: ["Begin with the last bar, then the last two: the end becomes what you know best."],
    caution: "Whoever is out of breath rests; a light head is a sign to pause.",
  },
  {
    id: "short",
    kinds: ["short"],
    symptom: "Notes are let go too early",
    causes: ["a breath before every note", "the tongue ends the note"],
    tries: ["Hold each note until the next one begins; only the air stops it, never the tongue."],
  },
  {
    id: "long",
    kinds: ["long"],
    symptom: "Notes hang over into the rest",
    causes: ["the rest is not counted"],
    tries: ["Say the rest aloud, as rest or with its number, and lift the fingers on it."],
  },
  {
    id: "doubled",
    kinds: ["doubled"],
    symptom: "Notes sound twice",
    causes: ["tongue and fingers are not together", "the tongue strikes twice to be sure"],
    tries: ["Play the line on one note with the tongue alone, then add the fingers slowly."],
  },
  {
    id: "slur",
    kinds: ["re-tongued-slur", "breath-in-slur"],
    symptom: "Slurs that are broken",
    causes: ["the tongue moves with the fingers", "too little air before the slur"],
    tries: [
      "Tongue the whole slur once, then play the same air with one tongue; fingers as even as the tongue was.",
    ],
  },
  {
    id: "dynamics",
    kinds: ["dynamics"],
    symptom: "Soft and loud are alike",
    causes: ["the soft part is not soft enough to leave room", "less air is used instead of less sound"],
    tries: ["Play the soft part so that a neighbour can talk, with the same fast air."],
  },
  {
    id: "accents",
    kinds: ["accents"],
    symptom: "Accents do not stand out",
    causes: ["the tongue strikes harder, the air stays the same", "everything is loud already"],
    tries: [
      "One note, four in a row: the first with a push of air, three soft ones; the same tongue for all.",
    ],
  },
  {
    id: "not-short",
    kinds: ["not-short"],
    symptom: "Staccato is held on",
    causes: ["the dots are not seen", "the tongue is slow to come back and the air never rests"],
    tries: [
      "Say dit for each note, then play it so: the tongue starts it, the air stops it, silence after it.",
    ],
  },
  {
    id: "staccato-slower",
    kinds: ["staccato-slower"],
    symptom: "Staccato slows down",
    causes: [
      "the silence after each note is waited out",
      "the tongue stops the note and comes late to the next",
    ],
    tries: ["Play it long first, with a click; then shorten each note a little more, in the same tempo."],
  },
  {
    id: "corrected",
    kinds: ["corrected"],
    symptom: "Notes are found at the second try",
    causes: ["the note is not heard before it is played", "the fingering is not ready in time"],
    tries: ["Sing the note, set the fingers in silence, and only then play it; then the bar, slowly."],
  },
  {
    id: "missed",
    kinds: ["missed", "bars-left-out", "repeat-left-out", "repeat-too-many"],
    symptom: "Notes, bars or a repeat are left out, or a repeat is too many",
    causes: ["the eye lost its place", "a fingering was not ready"],
    tries: ["Point along the notes and say their names in time before you play."],
  },
  {
    id: "strokes",
    families: STRUCK,
    kinds: ["extra", "doubled", "early", "late"],
    symptom: "Strokes too many, or uneven hands",
    causes: ["a tight grip lets the stick bounce", "the weak hand comes late"],
    tries: [
      "Hold the sticks so loosely that one full stroke comes back by itself; each hand alone, then both.",
    ],
    helper: "Close the eyes: can a listener tell which hand it was?",
  },
];

/** So many remedies are offered for one finding. */
const OFFERED = 2;

/** What helps against a kind of error on an instrument, what is made for the instrument before what is for all. */
export function remediesFor(kind: CauseKind, family: Family): Remedy[] {
  return REMEDIES.filter(
    ({ kinds, families }) => kinds.includes(kind) && (families?.includes(family) ?? true),
  )
    .sort((a, b) => Number(b.families !== undefined) - Number(a.families !== undefined))
    .slice(0, OFFERED);
}
