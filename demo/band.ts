import type { Terms } from "../src/core/practice";
import { type Rubric, USUAL_RUBRIC } from "../src/core/progress";

/** The Lantern Quay Beginner Band: everybody and everything here is invented. */
export const DEMO = {
  name: "The Lantern Quay Beginner Band",
  town: "Lantern Quay, an island harbour town",
  classCode: "LANTERN-4",
  timeZone: "Atlantic/Faroe",
  directorName: "Marit Okonjo-Lind",
  email: "marit@lanternquay.example",
  password: "quayside-lantern-34",
};

export const GROUPS = ["Reeds", "High Brass & Percussion", "Low Brass"] as const;
type GroupName = (typeof GROUPS)[number];

export interface DemoPlayer {
  name: string;
  instruments: string[];
  group: GroupName;
  stage: "five-notes" | "small-tunes" | "widening";
  /** 0 to 1: how far along the player is; sets the habits of simulated takes. */
  skill: number;
  /** Fixed words for the few players whose sign-in the demo prints. */
  words?: string;
}

/** Eight weeks in: most are at small tunes, the horns still at their five notes, percussion and two clarinets ahead. */
function stageOf(instrument: string, place: number): DemoPlayer["stage"] {
  if (instrument === "horn") return "five-notes";
  const ahead = instrument === "bells" || (instrument === "clarinet" && place % 4 === 3);
  return ahead ? "widening" : "small-tunes";
}

function section(group: GroupName, instruments: string[], names: string): DemoPlayer[] {
  return names.split(", ").map((name, i) => ({
    name,
    instruments,
    group,
    stage: stageOf(instruments[0]!, i),
    skill: [0.85, 0.55, 0.7, 0.95, 0.35, 0.6, 0.8, 0.45][i % 8]!,
  }));
}

export const PLAYERS: DemoPlayer[] = [
  ...section(
    "Reeds",
    ["flute"],
    "Aino Brekkan, Suri Lindqvast, Wren Oyelaran, Mila Tanberg, Petra Quillane, Zofia Marlow",
  ),
  ...section("Reeds", ["oboe"], "Noor Castellane, Idris Vayle"),
  ...section(
    "Reeds",
    ["clarinet"],
    "Ines Haldorsen, Lumi Okafor-Strand, Bertil Sandoval, Keziah Thorn, Olle Mbeki-Dahl, Runa Pasternek, Teo Abernale, Yara Hollisund",
  ),
  ...section("Reeds", ["clarinet-bass"], "Magnus Ferreday, Dalia Korpi"),
  ...section(
    "Reeds",
    ["sax-alto"],
    "Aroha Finchley, Caspian Oduya, Liv Marchetta, Nils Bracegird, Safiya Rowanes",
  ),
  ...section("Reeds", ["sax-tenor"], "Emeka Solberry, Tove Lachlann"),
  ...section("Reeds", ["sax-bari"], "Otis Wendelbo"),
  ...section(
    "High Brass & Percussion",
    ["trumpet"],
    "Benno Uistgard, Freya Adeyinka, Hugo Larkspur, Imani Sorrel, Jory Valdane, Signe Patel-Ostrom",
  ),
  ...section("High Brass & Percussion", ["horn"], "Tomasz Braelund, Edda Marshwick, Rafi Colquhane"),
  ...section("High Brass & Percussion", ["bells", "snare"], "Kofi Stenmark, Anneli Durrow, Matteo Fjeldby"),
  ...section("Low Brass", ["trombone"], "Jonty Skeldane, Amara Winterby, Lucian Grimsby-Oh, Vilde Monteray"),
  ...section("Low Brass", ["euphonium"], "Greta Halloran-Bo, Samir Eastvik"),
  ...section("Low Brass", ["tuba"], "Pax Verhoeven-Lund, Isolde Banjoko"),
];

const PRINTED: Record<string, string> = {
  "Ines Haldorsen": "anchor lantern otter plum",
  "Tomasz Braelund": "harbor silver mint cloud",
  "Kofi Stenmark": "drum pebble raven sail",
};
for (const player of PLAYERS) if (PRINTED[player.name]) player.words = PRINTED[player.name]!;

/** How the band marks: every day, in a playing test, and in the first weeks. */
export const RUBRICS: Rubric[] = [
  USUAL_RUBRIC,
  {
    id: "test",
    name: "Playing test",
    school: "marks",
    levels: ["not yet", "starting", "nearly", "there", "for the concert"],
    criteria: [
      { id: "notes", word: "Right notes", weight: 2, hears: "notes", means: [] },
      { id: "rhythm", word: "Steady time", weight: 2, hears: "rhythm", means: [] },
      {
        id: "tone",
        word: "Sound",
        weight: 1,
        hears: null,
        means: [
          "no sound that holds",
          "airy, it breaks off",
          "holds, but thin",
          "full on easy notes",
          "full and even on all notes",
        ],
      },
      { id: "posture", word: "Posture", weight: 1, hears: null, means: [] },
    ],
  },
  {
    id: "first",
    name: "First weeks",
    school: "pass",
    levels: ["not yet", "passed"],
    criteria: [
      { id: "tone", word: "A sound that holds", weight: 1, hears: null, means: [] },
      { id: "posture", word: "Posture and hands", weight: 1, hears: null, means: [] },
    ],
  },
];

/** Weeks since the band began. */
export const WEEKS_BEHIND = 8;

/** Who came late, who left, and who took another instrument. */
export const NEWCOMER = {
  name: "Solvei Nordahl",
  instrument: "flute",
  group: "Reeds" as const,
  words: "pier copper willow drift",
};
export const LEAVER = "Jory Valdane";
export const SWAP = { name: "Dalia Korpi", from: "clarinet", daysAgo: 24 };

/** What was taught: lines by number, to whom, so many days ago; the lessons of weeks 4 to 8. */
export const LESSONS: { line: number; group: GroupName | "Full Band"; daysAgo: number; without?: string }[] =
  [
    ...Array.from({ length: 16 }, (_, i) => ({
      line: i + 1,
      group: "Full Band" as const,
      daysAgo: 36 - 2 * i,
    })),
    // The horns take longer over their five notes.
    ...[17, 18, 20].map((line, i) => ({
      line,
      group: "Full Band" as const,
      daysAgo: 7 - 2 * i,
      without: "horn",
    })),
    ...[21, 22, 26].map((line, i) => ({ line, group: "Low Brass" as const, daysAgo: 6 - 2 * i })),
  ];

export interface DemoAssignment {
  line: number;
  group: GroupName | "Full Band";
  /** Due so many days from the day of seeding. */
  dueInDays: number;
  timesPerWeek: number;
  note: string;
  /** Share of the group that has sent a take, and of those takes already heard by the director. */
  sent: number;
  heard: number;
  /** How it is given, where that was said. */
  terms?: Partial<Terms>;
}

/** Goes on in the book by own choice. */
export const AHEAD = { name: "Kofi Stenmark", line: 29 };

export const ASSIGNMENTS: DemoAssignment[] = [
  {
    line: 23,
    group: "Full Band",
    dueInDays: -4,
    timesPerWeek: 4,
    note: "Let the long notes grow.",
    sent: 0.3,
    heard: 0.9,
  },
  {
    line: 28,
    group: "Reeds",
    dueInDays: -1,
    timesPerWeek: 5,
    note: "Mind the second ending.",
    sent: 0.45,
    heard: 0.7,
    terms: {
      test: true,
      lowestBpm: 66,
      rubric: "test",
    },
  },
  {
    line: 26,
    group: "Full Band",
    dueInDays: 2,
    timesPerWeek: 5,
    note: "Say the key signature before you play. Bars 3 and 5 first, then the whole line.",
    sent: 0.64,
    heard: 0.15,
    terms: { minutes: 4, steps: ["listen", "look", "count", "finger", "slow", "snags", "whole", "record"] },
  },
  {
    line: 19,
    group: "High Brass & Percussion",
    dueInDays: 3,
    timesPerWeek: 3,
    note: "Snare only: count aloud once, then play.",
    sent: 0.7,
    heard: 0,
  },
  {
    line: 27,
    group: "Low Brass",
    dueInDays: 6,
    timesPerWeek: 5,
    note: "",
    sent: 0.4,
    heard: 0,
    terms: {
      lowestBpm: 60,
      ladder: { fromBpm: 60, stepBpm: 6 },
      styles: [{ firstBar: 0, lastBar: 3, style: "smooth" }],
    },
  },
  {
    line: 32,
    group: "Low Brass",
    dueInDays: 7,
    timesPerWeek: 3,
    note: "Accents out of a soft line; the short notes keep the tempo.",
    sent: 0.7,
    heard: 0,
  },
  {
    line: 16,
    group: "Reeds",
    dueInDays: 5,
    timesPerWeek: 1,
    note: "Nobody has seen it. Keep going, slips and all.",
    sent: 0.5,
    heard: 0,
    terms: { sight: { lookSec: 30 } },
  },
];
