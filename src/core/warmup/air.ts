import type { Families } from "./block";
import { type Plain, repeatNotes, rest } from "./notes";
import { inBars, type Laid, numbered, type PlayerKind } from "./segment";

/** What is done in time but has no pitch stands as crosses on a percussion staff, with words under them. */
const CROSS = { step: "B", octave: 4, head: "x" } as const;

function cross(counts: number, lyric: string): Plain[] {
  return counts > 0 ? [{ duration: String(counts), drum: CROSS, lyric }] : [];
}

function onAir(notes: Plain[], words: string): Laid {
  const measures = numbered(inBars(notes, "s1", null));
  return {
    measures: [{ ...measures[0]!, words }, ...measures.slice(1)],
    clef: "percussion",
    soundsBy: { letters: 0, semitones: 0 },
    cutShort: null,
  };
}

/** Wait, breathe in, blow out, in counts; the same for everybody. */
export function breathing({ waitCounts, inCounts, outCounts, rounds }: Families["breathing"]): Laid {
  const round = [...rest(waitCounts), ...cross(inCounts, "in"), ...cross(outCounts, "blow")];
  return onAir(repeatNotes(round, rounds), "seated, shoulders low");
}

/** What an instrument sounds on before it is put together (common practice, no published source). */
export function firstPiece({ instrument }: Pick<PlayerKind, "instrument">): string {
  if (instrument.family === "flutes") return "head joint";
  if (instrument.family === "double reeds")
    return instrument.id === "bassoon" ? "reed on the bocal" : "reed alone";
  if (instrument.family === "clarinets") return "mouthpiece and barrel";
  if (instrument.family === "saxes") return "mouthpiece and neck";
  if (instrument.family === "strings") return "one open string";
  if (instrument.family === "mallets") return "soft roll on one bar";
  if (instrument.family === "drums") return instrument.ranges ? "soft roll" : "soft strokes on a pad";
  return "mouthpiece, buzzing";
}

const SOUND_WORDS: Record<Families["first-sounds"]["sound"], string> = {
  steady: "one steady sound",
  siren: "a siren, low to high and back",
  short: "one short sound a count",
};

/** Sounds on the first piece of the instrument, on and off; struck instruments keep to even strokes. */
export function firstSounds(settings: Families["first-sounds"], player: PlayerKind): Laid {
  const struck = player.instrument.family === "mallets" || player.instrument.family === "drums";
  const { sound, countsOn, countsOff, rounds } = settings;
  const on =
    sound === "short"
      ? Array.from({ length: countsOn }, () => cross(1, "")).flat()
      : cross(countsOn, sound === "siren" && !struck ? "low, high, low" : "hold");
  const words = `${firstPiece(player)}: ${struck && sound === "siren" ? SOUND_WORDS.steady : SOUND_WORDS[sound]}`;
  return onAir(repeatNotes([...on.map(withoutEmptyWord), ...rest(countsOff)], rounds), words);
}

function withoutEmptyWord({ lyric, ...plain }: Plain): Plain {
  return lyric ? { ...plain, lyric } : plain;
}
