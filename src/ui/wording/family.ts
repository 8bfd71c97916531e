import type { Family, Stage } from "../../core/music";

/** What a family hears at a stage, in words without music lessons (common practice, no published source). */
export const NORMAL_NOW: Record<Stage, string> = {
  "making-a-sound":
    "Airy noises, squeaks, and no tune yet. The first steady sound can take some weeks. Lips tire after a few minutes; light heads need a pause.",
  "five-notes":
    "The same few notes again and again, some of them cracking. Short breath, so there are stops in the middle of a tune.",
  "small-tunes":
    "Tunes you may know, slower than you know them, with stops. One spot repeated many times is what good practice sounds like.",
  widening:
    "Some notes that crack at the top or the bottom, slow work on quick places, and tunes that sound finished now and then.",
};

/** How a family helps at a stage. */
export const HELP_NOW: Record<Stage, string> = {
  "making-a-sound":
    "A few minutes each day are worth more than an hour on Sunday. Ask to be shown how the instrument is put together and put away.",
  "five-notes":
    "Listen once a day without correcting. Ask which spot is the hard one, and hear that spot three times, slowly.",
  "small-tunes":
    "Ask to hear yesterday's hard spot first, then the whole tune. Praise what got better since yesterday, not only what is perfect.",
  widening: "Ask what the goal of today is before the playing starts, and whether it was met when it ends.",
};

/** What may sound odd or be needed, by kind of instrument. */
export const ABOUT_INSTRUMENT: Record<Family, string> = {
  flutes: "A flute sounds like wind in a bottle before it sounds like a flute.",
  "double reeds": "A reed must be damp before it speaks; it is not broken when it quacks.",
  clarinets:
    "Squeaks mean that a finger is not quite closing a hole. A spare reed in the case saves an evening.",
  saxes: "A saxophone is loud from the first day. A spare reed in the case saves an evening.",
  "high brass":
    "Buzzing with the lips alone is practice too. After each few minutes the lips need a rest as long.",
  "low brass":
    "Large instruments need large breaths; stops for air are right. The water that runs out is only breath.",
  strings: "Quiet plucking is practice too.",
  mallets: "Practice goes well with the sticks on a pillow when it must be quiet.",
  drums: "Practice on a pad or a pillow is real practice; counting aloud belongs to it.",
};
