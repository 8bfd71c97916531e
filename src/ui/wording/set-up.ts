import { instrumentById } from "../../core/music";

/** What is checked before the first sound, in the order of the hands (common practice, no published source). */
const REED = [
  "Reed in the mouth to wet it.",
  "Cork grease if the joints are tight.",
  "Neck strap on, where there is one.",
  "Joints together with a gentle turn, keys free of pressure.",
  "Mouthpiece on, then the ligature, the reed last.",
  "Feet flat, back free, instrument to you and not you to it.",
];
const LISTS = {
  reed: REED,
  flute: [
    "Head joint in with a gentle turn, mouth hole in line with the keys.",
    "Foot joint on, its rod in line with the last key.",
    "Hands from above on the parts without keys.",
    "Feet flat, head up, the flute to the right.",
  ],
  valves: [
    "Mouthpiece in with a small turn, never tapped.",
    "Valves move freely; oil if they do not.",
    "Water out.",
    "Feet flat, back free, no pressing on the lips.",
  ],
  slide: [
    "Slide locked while you put it together.",
    "Mouthpiece in with a small turn, never tapped.",
    "Water out, then unlock the slide.",
    "Check that nobody stands before you.",
    "Sit at the edge of the chair; the slide never touches the floor.",
  ],
  strings: [
    "Strap or endpin set, instrument steady.",
    "Bow hair tight enough, or amplifier low.",
    "Feet flat, shoulders low.",
  ],
  struck: [
    "Stand at the height of your belly button.",
    "Two sticks or mallets of one pair.",
    "Snares on, or bars clean.",
    "Feet apart, shoulders low, ears protected when it is loud.",
  ],
};

export function setUpList(instrumentId: string): string[] {
  const instrument = instrumentById(instrumentId);
  if (instrumentId === "flute" || instrumentId === "piccolo") return LISTS.flute;
  if (instrumentId.includes("trombone")) return LISTS.slide;
  if (typeof instrument.fingering === "object") return LISTS.valves;
  if (instrument.family === "mallets" || instrument.family === "drums") return LISTS.struck;
  if (instrument.family === "strings") return LISTS.strings;
  return LISTS.reed;
}

/** Sounds before there are notes, short and in order. */
export const SOUND_TASKS = {
  brass: [
    "Lips only: hum, then let them buzz.",
    "Mouthpiece: buzz one steady sound, four counts.",
    "Mouthpiece: a siren, low to high and back, three times.",
    "Buzz a tune you know.",
  ],
  reed: [
    "Mouthpiece and neck or barrel: one steady sound, four counts.",
    "Begin it with the tongue, let it go with the air.",
    "Three times, each as long as the first.",
  ],
  flute: [
    "Head joint, open end: one steady sound, four counts.",
    "Cover the end with your hand: it sounds lower.",
    "Slide a finger in and out: a siren, three times.",
  ],
} as const;
