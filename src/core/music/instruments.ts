import {
  type Interval,
  invertInterval,
  type Pitch,
  parsePitch,
  pitchToMidi,
  staffStep,
  transposePitch,
} from "./pitch";

/** Where an instrument stands in the band's balance: each higher voice is softer than the one below. */
export type BalanceVoice = "soprano" | "alto" | "tenor" | "bass" | "none";
export type Family =
  | "flutes"
  | "double reeds"
  | "clarinets"
  | "saxes"
  | "high brass"
  | "low brass"
  | "strings"
  | "mallets"
  | "drums";
export type Clef = "treble" | "bass" | "percussion";
/** In the order in which a beginner goes through them. */
export const STAGES = ["making-a-sound", "five-notes", "small-tunes", "widening"] as const;
export type Stage = (typeof STAGES)[number];

/** Lowest and highest written note, scientific pitch notation. */
export type Range = readonly [low: string, high: string];

export interface Instrument {
  id: string;
  name: string;
  /** At most three letters, for strips and table heads. */
  short: string;
  family: Family;
  clef: Clef;
  /** From the written to the sounding pitch; all zero when it sounds as written. */
  soundsBy: Interval;
  /** Written ranges by how far a player is; null for unpitched instruments. */
  ranges: { fiveNotes: Range; firstYear: Range; secondYear: Range } | null;
  /** Where a first-year player sounds well without effort, written; null for unpitched instruments. */
  tessitura: Range | null;
  /** How notes are found: an own chart, the harmonic series with valves or slide, or no fingering. */
  fingering: NoteFinding;
  /** Builds of the instrument that finger differently; a player has one of them. The first is what `fingering` describes. */
  variants?: readonly InstrumentVariant[];
  /** How the upper register comes about, one sentence. */
  overblows: string;
  voice: BalanceVoice;
  /** The concert note a band tunes this instrument to, scientific pitch notation; null where there is nothing to tune. */
  tuningNote: string | null;
  /** Where beginners stumble, one sentence each. */
  typicalSnags: readonly string[];
  /** Said where the act happens; never medical advice. */
  cautions: readonly string[];
  /** Drums that are tuned, each with its lowest and highest note, lowest first: they play tonic and dominant. */
  drums?: readonly Range[];
  /** Light legato tongue in slurs is correct (a slide would smear). */
  legatoTongue?: true;
}

/** A brass tube: its open written notes by partial, and what lengthens it. */
export interface BrassTube {
  series: "valves" | "slide";
  openPartials: Record<number, string>;
  /** A fourth valve, five semitones long. */
  fourthValve?: true;
  /** A second tube behind a thumb valve or trigger: its own open notes; from `from` upward (horn) it is the first choice. */
  thumb?: { openPartials: Record<number, string>; from: string | null; spare?: readonly number[] };
  /** It is played high in its series, where partials are close neighbours. */
  closePartials?: true;
  /** Partials that players of this tube avoid where another one serves, beside the 7th and 9th. */
  spare?: readonly number[];
}
export type NoteFinding = "flute" | "oboe" | "bassoon" | "clarinet" | "sax" | "none" | BrassTube;

export interface InstrumentVariant {
  id: string;
  name: string;
  fingering: NoteFinding;
}

const asWritten: Interval = { letters: 0, semitones: 0 };
const secondDown: Interval = { letters: -1, semitones: -2 };
const ninthDown: Interval = { letters: -8, semitones: -14 };
const sixthDown: Interval = { letters: -5, semitones: -9 };
const octaveAndSixthDown: Interval = { letters: -12, semitones: -21 };
const fifthDown: Interval = { letters: -4, semitones: -7 };
const octaveDown: Interval = { letters: -7, semitones: -12 };
const octaveUp: Interval = { letters: 7, semitones: 12 };
const twoOctavesUp: Interval = { letters: 14, semitones: 24 };

// Written open notes by partial; the 1st is no playing note for beginners, the flat 7th is never a first choice.
const trumpetSeries = { 2: "C4", 3: "G4", 4: "C5", 5: "E5", 6: "G5", 7: "Bb5", 8: "C6" };
const hornSeries = {
  2: "C3",
  3: "G3",
  4: "C4",
  5: "E4",
  6: "G4",
  7: "Bb4",
  8: "C5",
  9: "D5",
  10: "E5",
  12: "G5",
};
const tenorBrassSeries = { 2: "Bb2", 3: "F3", 4: "Bb3", 5: "D4", 6: "F4", 7: "Ab4", 8: "Bb4" };
const tubaSeries = { 2: "Bb1", 3: "F2", 4: "Bb2", 5: "D3", 6: "F3", 7: "Ab3", 8: "Bb3" };

// The B♭ side of a horn lies a fourth above the F side; read on parts in F.
const hornSeriesBb = {
  2: "F3",
  3: "C4",
  4: "F4",
  5: "A4",
  6: "C5",
  7: "Eb5",
  8: "F5",
  9: "G5",
  10: "A5",
};
/** On the B♭ side A4 and A♭4 are taken from the 6th partial, not from the flat 5th (common practice, no published source). */
const HORN_SPARE = [5];
// The trigger makes a tenor trombone a trombone in F.
const triggerSeries = { 2: "F2", 3: "C3", 4: "F3", 5: "A3", 6: "C4" };

const LIPS = "Rest as much as you play; stop at pain, numbness or dizziness.";
const NO_FORCE = "Never force a high note or press the mouthpiece; go up one semitone at a time.";
const STUCK = "A stuck mouthpiece goes to a repair technician; no force, no pliers.";
const REED = "Put the reed on last and take it off after playing; reeds and mouthpieces are personal.";
const LOUD =
  "A band room is loud: keep distance and time in mind, and follow your school's rule for hearing.";
const WEIGHT = "Let the strap or stand carry the weight; sit so that hands and neck stay free.";

const SMALL_HANDS =
  "Small hands and short arms do not squeeze or over-reach: leave the note out, take another way, grow into it.";

const fluteKind = {
  family: "flutes",
  clef: "treble",
  ranges: { fiveNotes: ["Bb4", "F5"], firstYear: ["F4", "D6"], secondYear: ["C4", "G6"] },
  tessitura: ["Bb4", "Bb5"],
  fingering: "flute",
  overblows: "At the octave, by lips and faster air; on D5 and E♭5 the left index finger lifts.",
  voice: "soprano",
  typicalSnags: [
    "D5 and E♭5 with the left index finger down speak an octave low or not at all.",
    "C5 to D5 changes almost every finger.",
    "The right little finger is forgotten on most notes.",
  ],
  cautions: [LIPS, "Breathing exercises are done seated; a light head is a sign to pause."],
} as const;
const clarinetKind = {
  family: "clarinets",
  clef: "treble",
  // The first year ends below the break: B4 and what lies above it come with the widening stage.
  ranges: { fiveNotes: ["C4", "G4"], firstYear: ["E3", "Bb4"], secondYear: ["E3", "G5"] },
  tessitura: ["G3", "G4"],
  fingering: "clarinet",
  overblows: "At the twelfth, with the register key: low F becomes C5.",
  typicalSnags: [
    "The break: from throat A or B♭ to B or C every finger goes down at once.",
    "One leaking hole makes the low notes squeak or stop.",
    "Throat notes run sharp and thin.",
  ],
  cautions: [REED, LIPS, SMALL_HANDS],
} as const;
const saxKind = {
  family: "saxes",
  clef: "treble",
  ranges: { fiveNotes: ["G4", "D5"], firstYear: ["D4", "A5"], secondYear: ["Bb3", "D6"] },
  tessitura: ["G4", "D5"],
  fingering: "sax",
  overblows: "At the octave, with the octave key.",
  typicalSnags: [
    "C5 to D5: one finger becomes six and the octave key.",
    "Low D and below need every key closed and warm, slow air.",
    "The octave key stays down on the way back.",
  ],
  cautions: [REED, WEIGHT, SMALL_HANDS],
} as const;
/** Soprano and tenor read the five notes across the octave key, from C5 to G5. */
const highSaxRanges = {
  fiveNotes: ["C5", "G5"],
  firstYear: ["C4", "C6"],
  secondYear: ["Bb3", "D6"],
} as const;
const drumKind = {
  family: "drums",
  clef: "percussion",
  soundsBy: asWritten,
  ranges: null,
  tessitura: null,
  fingering: "none",
  overblows: "It has no pitch to overblow.",
  voice: "none",
  tuningNote: null,
  cautions: [LOUD],
} as const;
const barsKind = {
  family: "mallets",
  clef: "treble",
  fingering: "none",
  overblows: "Each bar has one pitch.",
  voice: "soprano",
  tuningNote: null,
  cautions: [LOUD],
} as const;
const trumpetKind = {
  family: "high brass",
  clef: "treble",
  soundsBy: secondDown,
  ranges: { fiveNotes: ["C4", "G4"], firstYear: ["Bb3", "D5"], secondYear: ["G3", "G5"] },
  tessitura: ["C4", "C5"],
  fingering: { series: "valves", openPartials: trumpetSeries },
  overblows: "By lips and air along the harmonic series: open C4, G4, C5, E5, G5.",
  voice: "soprano",
  tuningNote: "Bb4",
  typicalSnags: [
    "G4 sounds where C4 is fingered the same, and the other way round.",
    "D4 with 1-3 runs sharp; the third valve slide brings it down.",
  ],
  cautions: [LIPS, NO_FORCE, STUCK],
} as const;
const tenorBrassKind = {
  family: "low brass",
  clef: "bass",
  soundsBy: asWritten,
  ranges: { fiveNotes: ["Bb2", "F3"], firstYear: ["F2", "D4"], secondYear: ["E2", "F4"] },
  tessitura: ["Bb2", "Bb3"],
  overblows: "By lips and air along the harmonic series: open B♭2, F3, B♭3, D4, F4.",
  voice: "tenor",
  tuningNote: "Bb3",
} as const;
const bassStringKind = {
  family: "strings",
  clef: "bass",
  soundsBy: octaveDown,
  ranges: { fiveNotes: ["Bb2", "F3"], firstYear: ["E2", "C4"], secondYear: ["E2", "F4"] },
  tessitura: ["E2", "C4"],
  fingering: "none",
  overblows: "Notes are stopped on four strings: E2, A2, D3, G3 as written.",
  voice: "bass",
  typicalSnags: [
    "Shifts of the whole hand between first and half position.",
    "Flats need a stopped string where C major has an open one.",
  ],
} as const;
const fourValves = (openPartials: Record<number, string>) =>
  [
    { id: "three-valves", name: "Three valves", fingering: { series: "valves", openPartials } },
    {
      id: "four-valves",
      name: "Four valves",
      fingering: { series: "valves", openPartials, fourthValve: true },
    },
  ] as const;

/**
 * The instruments of a school band in score order. Transpositions: common practice, no published source.
 * Ranges by stage, tessitura, tuning notes, snags: from memory of common beginner practice. Cautions: common practice, no
 * published source; a school's rules and professionals come first.
 */
export const INSTRUMENTS: readonly Instrument[] = [
  {
    ...fluteKind,
    id: "piccolo",
    name: "Piccolo",
    short: "pic",
    soundsBy: octaveUp,
    ranges: { ...fluteKind.ranges, secondYear: ["D4", "G6"] },
    tuningNote: "Bb5",
    cautions: [...fluteKind.cautions, LOUD],
  },
  { ...fluteKind, id: "flute", name: "Flute", short: "fl", soundsBy: asWritten, tuningNote: "Bb4" },
  {
    id: "oboe",
    name: "Oboe",
    short: "ob",
    family: "double reeds",
    clef: "treble",
    soundsBy: asWritten,
    ranges: { fiveNotes: ["Bb4", "F5"], firstYear: ["D4", "Bb5"], secondYear: ["C4", "C6"] },
    tessitura: ["G4", "F5"],
    fingering: "oboe",
    overblows: "At the octave: half-hole for C♯5, D5 and E♭5, then the octave keys.",
    voice: "soprano",
    tuningNote: "Bb4",
    typicalSnags: [
      "The left index finger rolls for C♯5, D5 and E♭5, it does not lift.",
      "F has two fingerings; beside D and E♭ the forked one is needed.",
    ],
    cautions: ["Soak the reed in clean water and keep it yours.", LIPS],
  },
  {
    id: "bassoon",
    name: "Bassoon",
    short: "bn",
    family: "double reeds",
    clef: "bass",
    soundsBy: asWritten,
    ranges: { fiveNotes: ["Bb2", "F3"], firstYear: ["F2", "C4"], secondYear: ["Bb1", "D4"] },
    tessitura: ["F2", "F3"],
    fingering: "bassoon",
    overblows: "At the octave: half-hole for F♯3 to A♭3, a flick of the thumb for A3 to C4.",
    voice: "bass",
    tuningNote: "Bb2",
    typicalSnags: [
      "G3 cracks without the half-hole.",
      "A3 to C4 crack without a flick of the left thumb.",
      "The whisper key is held from low F up to G♯3 where the chart shows it, and forgotten.",
    ],
    cautions: ["Soak the reed in clean water and keep it yours.", WEIGHT, SMALL_HANDS],
  },
  {
    ...clarinetKind,
    id: "clarinet-eb",
    name: "E♭ clarinet",
    short: "ecl",
    soundsBy: { letters: 2, semitones: 3 },
    ranges: { ...clarinetKind.ranges, fiveNotes: ["G3", "D4"] },
    voice: "soprano",
    tuningNote: "Bb4",
  },
  {
    ...clarinetKind,
    id: "clarinet",
    name: "B♭ clarinet",
    short: "cl",
    soundsBy: secondDown,
    voice: "soprano",
    tuningNote: "Bb3",
  },
  {
    ...clarinetKind,
    id: "clarinet-alto",
    name: "Alto clarinet",
    short: "acl",
    soundsBy: sixthDown,
    ranges: { ...clarinetKind.ranges, fiveNotes: ["G3", "D4"] },
    voice: "alto",
    tuningNote: "Bb3",
    cautions: [...clarinetKind.cautions, WEIGHT],
  },
  {
    ...clarinetKind,
    id: "clarinet-bass",
    name: "Bass clarinet",
    short: "bcl",
    soundsBy: ninthDown,
    voice: "bass",
    tuningNote: "Bb2",
    cautions: [...clarinetKind.cautions, WEIGHT],
  },
  {
    ...saxKind,
    id: "sax-soprano",
    name: "Soprano sax",
    short: "ss",
    soundsBy: secondDown,
    ranges: highSaxRanges,
    tessitura: ["A4", "G5"],
    voice: "soprano",
    tuningNote: "Bb4",
  },
  {
    ...saxKind,
    id: "sax-alto",
    name: "Alto sax",
    short: "as",
    soundsBy: sixthDown,
    voice: "alto",
    tuningNote: "Bb3",
  },
  {
    ...saxKind,
    id: "sax-tenor",
    name: "Tenor sax",
    short: "ts",
    soundsBy: ninthDown,
    ranges: highSaxRanges,
    tessitura: ["A4", "G5"],
    voice: "tenor",
    tuningNote: "Bb3",
  },
  {
    ...saxKind,
    id: "sax-bari",
    name: "Baritone sax",
    short: "bs",
    soundsBy: octaveAndSixthDown,
    voice: "bass",
    tuningNote: "Bb2",
  },
  { ...trumpetKind, id: "trumpet", name: "Trumpet", short: "tp" },
  { ...trumpetKind, id: "flugelhorn", name: "Flugelhorn", short: "fgh", voice: "alto" },
  {
    id: "horn",
    name: "Horn in F",
    short: "hn",
    family: "high brass",
    clef: "treble",
    soundsBy: fifthDown,
    ranges: { fiveNotes: ["F4", "C5"], firstYear: ["Bb3", "Eb5"], secondYear: ["G3", "G5"] },
    tessitura: ["C4", "C5"],
    fingering: { series: "valves", closePartials: true, openPartials: hornSeries },
    variants: [
      {
        id: "single-f",
        name: "Single F",
        fingering: { series: "valves", closePartials: true, openPartials: hornSeries },
      },
      {
        id: "single-b-flat",
        name: "Single B♭",
        fingering: { series: "valves", closePartials: true, openPartials: hornSeriesBb, spare: HORN_SPARE },
      },
      {
        id: "double",
        name: "Double",
        fingering: {
          series: "valves",
          closePartials: true,
          openPartials: hornSeries,
          thumb: { openPartials: hornSeriesBb, from: "G#4", spare: HORN_SPARE },
        },
      },
    ],
    overblows: "By lips and air; the partials are close neighbours, so that the next one is easily hit.",
    voice: "alto",
    tuningNote: "F4",
    typicalSnags: [
      "The attack lands on a neighbouring partial.",
      "The first note has to be heard before it is played.",
    ],
    cautions: [LIPS, NO_FORCE, STUCK],
  },
  {
    ...tenorBrassKind,
    id: "trombone",
    name: "Trombone",
    short: "tb",
    fingering: { series: "slide", openPartials: tenorBrassSeries },
    variants: [
      {
        id: "straight",
        name: "Without trigger",
        fingering: { series: "slide", openPartials: tenorBrassSeries },
      },
      {
        id: "trigger",
        name: "With F trigger",
        fingering: {
          series: "slide",
          openPartials: tenorBrassSeries,
          thumb: { openPartials: triggerSeries, from: null },
        },
      },
    ],
    legatoTongue: true,
    typicalSnags: [
      "From 1st to 6th position the arm is late.",
      "The slide is found by ear; positions drift during a phrase.",
      "6th and 7th position are a long reach for small arms.",
    ],
    cautions: [
      LIPS,
      NO_FORCE,
      "Do not set the slide down on the floor; carry it locked.",
      STUCK,
      SMALL_HANDS,
    ],
  },
  {
    ...tenorBrassKind,
    id: "euphonium",
    name: "Euphonium",
    short: "eu",
    fingering: { series: "valves", openPartials: tenorBrassSeries },
    variants: fourValves(tenorBrassSeries),
    typicalSnags: ["B♭2 sounds where F3 is fingered the same.", "1-3 and 1-2-3 run sharp on three valves."],
    cautions: [LIPS, NO_FORCE, WEIGHT, STUCK],
  },
  {
    ...trumpetKind,
    id: "euphonium-treble",
    name: "Euphonium (treble clef)",
    short: "eut",
    family: "low brass",
    soundsBy: ninthDown,
    variants: fourValves(trumpetSeries),
    voice: "tenor",
    tuningNote: "Bb3",
    typicalSnags: ["C4 sounds where G4 is fingered the same.", "1-3 and 1-2-3 run sharp on three valves."],
    cautions: [LIPS, NO_FORCE, WEIGHT, STUCK],
  },
  {
    id: "tuba",
    name: "Tuba",
    short: "tu",
    family: "low brass",
    clef: "bass",
    soundsBy: asWritten,
    ranges: { fiveNotes: ["Bb1", "F2"], firstYear: ["F1", "D3"], secondYear: ["E1", "F3"] },
    tessitura: ["Bb1", "Bb2"],
    fingering: { series: "valves", openPartials: tubaSeries },
    variants: fourValves(tubaSeries),
    overblows: "By lips and much slow air: open B♭1, F2, B♭2, D3, F3.",
    voice: "bass",
    tuningNote: "Bb2",
    typicalSnags: [
      "Long notes end before their last beat: breathe earlier and deeper.",
      "Low notes arrive late.",
    ],
    cautions: [LIPS, WEIGHT, STUCK],
  },
  {
    ...bassStringKind,
    id: "string-bass",
    name: "String bass",
    short: "sb",
    tuningNote: "A2",
    cautions: [WEIGHT, SMALL_HANDS],
  },
  {
    ...bassStringKind,
    id: "bass-guitar",
    name: "Bass guitar",
    short: "bg",
    tuningNote: "A1",
    cautions: [LOUD],
  },
  {
    ...barsKind,
    id: "bells",
    name: "Bells",
    short: "be",
    soundsBy: twoOctavesUp,
    ranges: { fiveNotes: ["Bb4", "F5"], firstYear: ["G3", "C6"], secondYear: ["G3", "C6"] },
    tessitura: ["F4", "A5"],
    typicalSnags: ["Eyes leave the music to find the bar.", "Bars ring on unless they are damped."],
  },
  {
    ...barsKind,
    id: "xylophone",
    name: "Xylophone",
    short: "xy",
    soundsBy: octaveUp,
    ranges: { fiveNotes: ["Bb4", "F5"], firstYear: ["C4", "C7"], secondYear: ["F3", "C7"] },
    tessitura: ["F4", "C6"],
    typicalSnags: ["Eyes leave the music to find the bar.", "Long notes need a roll."],
  },
  {
    ...barsKind,
    id: "vibraphone",
    name: "Vibraphone",
    short: "vib",
    soundsBy: asWritten,
    ranges: { fiveNotes: ["Bb4", "F5"], firstYear: ["F3", "F6"], secondYear: ["F3", "F6"] },
    tessitura: ["F4", "A5"],
    voice: "alto",
    typicalSnags: ["The pedal blurs a line unless it is cleared with the harmony."],
  },
  {
    ...barsKind,
    id: "marimba",
    name: "Marimba",
    short: "mar",
    soundsBy: asWritten,
    ranges: { fiveNotes: ["Bb4", "F5"], firstYear: ["C3", "C7"], secondYear: ["C3", "C7"] },
    tessitura: ["F4", "A5"],
    voice: "alto",
    typicalSnags: ["Wide bars: the sticking has to be planned.", "Long notes need a roll."],
  },
  {
    id: "timpani",
    name: "Timpani",
    short: "tim",
    family: "drums",
    clef: "bass",
    soundsBy: asWritten,
    ranges: { fiveNotes: ["F2", "F3"], firstYear: ["F2", "F3"], secondYear: ["D2", "A3"] },
    tessitura: ["F2", "F3"],
    fingering: "none",
    // The 29 and the 26 inch drum, which every pair has (common practice, no published source).
    drums: [
      ["F2", "C3"],
      ["Bb2", "F3"],
    ],
    overblows: "Each drum holds one pitch at a time; a second drum holds the second.",
    voice: "bass",
    tuningNote: null,
    typicalSnags: [
      "The pitch is set before the count-off: find it by humming.",
      "Ringing goes on into rests unless it is damped.",
    ],
    cautions: [LOUD],
  },
  {
    ...drumKind,
    id: "snare",
    name: "Snare drum",
    short: "sn",
    typicalSnags: [
      "Eighths rush when the hands do not alternate.",
      "Long notes tempt to early next strokes: count through.",
    ],
  },
  {
    ...drumKind,
    id: "bass-drum",
    name: "Bass drum",
    short: "bd",
    typicalSnags: [
      "The stroke comes late from a wide swing.",
      "The ringing runs into rests unless it is damped.",
    ],
  },
  {
    ...drumKind,
    id: "accessories",
    name: "Percussion accessories",
    short: "acc",
    typicalSnags: [
      "Triangle and cymbals ring into rests unless they are damped.",
      "Picking the instrument up takes a bar: plan it.",
    ],
  },
];

const byId = new Map(INSTRUMENTS.map((instrument) => [instrument.id, instrument]));

/** @throws RangeError for an unknown id */
export function instrumentById(id: string): Instrument {
  const instrument = byId.get(id);
  if (!instrument) throw new RangeError(`There is no instrument "${id}"`);
  return instrument;
}

/** Names that hold an instrument's word and are another one that is not in the catalogue. */
const OTHERS = /english horn|cor anglais|tenor horn|alto horn|basset|tubular|cow ?bell|recorder|bugle/;

/** Words in the names scores give their parts, the more particular first. "Bass" alone may be a bass clarinet, sax or tuba. */
const NAME_WORDS: readonly [words: RegExp, id: string][] = [
  [/piccolo|\bpicc\b/, "piccolo"],
  [/alto clar|clar.*alto/, "clarinet-alto"],
  [/(bass|contra).*(clar|\bcl\b)|clar.*bass/, "clarinet-bass"],
  [/(e♭|eb|e flat|e-flat|es-).*clar|clar.*(e♭|eb\b|e flat|e-flat)/, "clarinet-eb"],
  [/clar|klar|\bcl\b/, "clarinet"],
  [/sopran.*sax|sax.*sopran/, "sax-soprano"],
  [/tenor.*sax|sax.*tenor|\bt\. ?sax/, "sax-tenor"],
  [/bari.*sax|sax.*bari|\bb\. ?sax/, "sax-bari"],
  [/sax/, "sax-alto"],
  [/bassoon|fagot/, "bassoon"],
  [/oboe|\bob\b/, "oboe"],
  [/flugel|flügel/, "flugelhorn"],
  [/trumpet|cornet|trompet|\btpt\b/, "trumpet"],
  [/trombone|posaune|\btbn\b/, "trombone"],
  [/(euphonium|baritone).*(t\.? ?c\.?|treble)/, "euphonium-treble"],
  [/euphonium|baritone/, "euphonium"],
  [/tuba|sousaphone/, "tuba"],
  [/horn|\bhn\b/, "horn"],
  [/flute|flöte|\bfl\b/, "flute"],
  [/glockenspiel|bells|bell kit|\bglock|mallet|orchestra bell/, "bells"],
  [/xylo/, "xylophone"],
  [/vibra/, "vibraphone"],
  [/marimba/, "marimba"],
  [/timpani|kettle|\btimp\b/, "timpani"],
  [/bass drum/, "bass-drum"],
  [/cymbal|triangle|tambourine|wood ?block|maracas|claves|accessor|auxiliary/, "accessories"],
  [/snare|drum|percussion/, "snare"],
  [/bass guitar|electric bass/, "bass-guitar"],
  [/string bass|double bass|contrabass|upright bass/, "string-bass"],
];

/**
 * The instrument a part's name stands for ("Trumpet 2 in B♭", "Glockenspiel"); undefined where the name tells nothing.
 * A treble-clef euphonium is told by its transposition.
 * @param semitones  how far the part sounds from its written notes
 * @example
 * instrumentNamed("B♭ clarinet")?.id // => "clarinet"
 */
export function instrumentNamed(name: string, semitones = 0): Instrument | undefined {
  const plain = name.toLowerCase();
  const exact = INSTRUMENTS.find((instrument) => instrument.name.toLowerCase() === plain);
  if (exact) return exact;
  if (OTHERS.test(plain)) return undefined;
  const id = NAME_WORDS.find(([words]) => words.test(plain))?.[1];
  if (!id) return undefined;
  return instrumentById(id === "euphonium" && semitones === -14 ? "euphonium-treble" : id);
}

/** How a player with a given build of the instrument finds notes; the usual build for an unknown or missing one. */
export function fingeringOf(instrument: Instrument, variantId?: string | null): NoteFinding {
  return instrument.variants?.find((variant) => variant.id === variantId)?.fingering ?? instrument.fingering;
}

/** Whether breath makes the sound; strings, mallets and drums are bowed, plucked or struck. */
export function isBlown(instrument: Instrument): boolean {
  return !["strings", "mallets", "drums"].includes(instrument.family);
}

/**
 * From the sounding to the written pitch of an instrument.
 * @example
 * writtenInterval(instrumentById("sax-alto")) // => { letters: 5, semitones: 9 }
 */
export function writtenInterval(instrument: Instrument): Interval {
  return invertInterval(instrument.soundsBy);
}

/** The written range used for a stage: the first two stages work on five notes, small tunes on the first year's. */
export function stageRange(instrument: Instrument, stage: Stage): { low: Pitch; high: Pitch } | null {
  if (!instrument.ranges) return null;
  const range = {
    "making-a-sound": "fiveNotes",
    "five-notes": "fiveNotes",
    "small-tunes": "firstYear",
    widening: "secondYear",
  } as const;
  const [low, high] = instrument.ranges[range[stage]];
  return { low: parsePitch(low), high: parsePitch(high) };
}

/** Both ends of a range as MIDI numbers. */
export function midisOf([low, high]: Range): [low: number, high: number] {
  return [pitchToMidi(parsePitch(low)), pitchToMidi(parsePitch(high))];
}

/** Lowest and highest written MIDI number of the first two years; null for unpitched instruments. */
export function widestRange({ ranges }: Instrument): [low: number, high: number] | null {
  return ranges && midisOf(ranges.secondYear);
}

/**
 * Where a player of a stage sounds well without effort, written: the five notes at first, the tessitura of the first year,
 * then all that the first year reached.
 */
export function comfortableRange(instrument: Instrument, stage: Stage): { low: Pitch; high: Pitch } | null {
  if (!instrument.ranges || !instrument.tessitura) return null;
  const { fiveNotes, firstYear } = instrument.ranges;
  const [low, high] = {
    "making-a-sound": fiveNotes,
    "five-notes": fiveNotes,
    "small-tunes": instrument.tessitura,
    widening: firstYear,
  }[stage];
  return { low: parsePitch(low), high: parsePitch(high) };
}

/**
 * The written note of an instrument for a concert pitch; the octave follows the instrument's transposition.
 * @example
 * pitchName(writtenFor(instrumentById("horn"), parsePitch("Bb3"))) // => "F4"
 */
export function writtenFor(instrument: Instrument, concert: Pitch): Pitch {
  return transposePitch(concert, writtenInterval(instrument));
}

/** Highest written note of the clarinet's lower register, B♭4: the next one up takes the register key and all fingers. */
const BELOW_THE_BREAK = 70;

/**
 * Whether the step between two written MIDI notes crosses the break of a clarinet; never for other instruments.
 * @example
 * // From the throat A to the B above it; from G to A below it nobody crosses anything.
 * [crossesBreak(instrumentById("clarinet"), 69, 71), crossesBreak(instrumentById("clarinet"), 67, 69)] // => [true, false]
 */
export function crossesBreak(instrument: Instrument, a: number, b: number): boolean {
  return (
    instrument.family === "clarinets" && Math.min(a, b) <= BELOW_THE_BREAK && Math.max(a, b) > BELOW_THE_BREAK
  );
}

const BOTTOM_LINES: Record<Clef, string> = { treble: "E4", bass: "G2", percussion: "E4" };

/**
 * Height of a written note on its staff in letter steps: 0 is the bottom line, 8 the top line, -2 the first ledger line below.
 * @example
 * // The bottom line of the treble staff is E4, of the bass staff G2.
 * [staffPosition(parsePitch("E4"), "treble"), staffPosition(parsePitch("A2"), "bass")] // => [0, 1]
 */
export function staffPosition(pitch: Pitch, clef: Clef): number {
  return staffStep(pitch) - staffStep(parsePitch(BOTTOM_LINES[clef]));
}
