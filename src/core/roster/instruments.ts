import { INSTRUMENTS, instrumentNamed } from "../music";
import { editDistance } from "../text";

/** What a cell of a list says is played. */
export interface NamedInstrument {
  instrumentId: string;
  /** Build, where the words name one: "double horn". */
  variant: string | null;
  /** Misspelled or told by half a name: a person should look at it. */
  guessed: boolean;
}

/** What schools write beside the names of the catalogue and of scores. Percussionists alternate bells and snare. */
const SAID: readonly [words: RegExp, ids: readonly string[]][] = [
  [/^(percussion|percussionist|perc|drums?|schlagzeug)$/, ["bells", "snare"]],
  [/^(keys|keyboard percussion|mallet percussion|mallets|glock)$/, ["bells"]],
  [/^(sd|side drum)$/, ["snare"]],
  [/^(a\.? ?sax|as)$/, ["sax-alto"]],
  [/^(t\.? ?sax|ts)$/, ["sax-tenor"]],
  [/^(b\.? ?sax|bs)$/, ["sax-bari"]],
  [/^(b\.? ?cl\.?|bcl)$/, ["clarinet-bass"]],
  [/^(t\.?b\.?n\.?|bone|tromb)$/, ["trombone"]],
  [/^(tpt|trp|tr|trumpets?|cornets?)$/, ["trumpet"]],
  [/^(euph|bari t\.?c\.?)$/, ["euphonium"]],
  [/^(hn|f horn|french horns?|waldhorn)$/, ["horn"]],
  [/^(flt|flauta|querflöte|traverso)$/, ["flute"]],
  [/^(bass)$/, ["string-bass"]],
];

/** Half a name that may be another instrument. */
const HALVES: readonly [words: RegExp, id: string][] = [
  [/^alto$/, "sax-alto"],
  [/^tenor$/, "sax-tenor"],
  [/^bari(tone)?$/, "sax-bari"],
];

const BUILDS: readonly [instrument: string, words: RegExp, variant: string][] = [
  ["horn", /double/, "double"],
  ["horn", /single (b♭|bb|b flat|b-flat)/, "single-b-flat"],
  ["horn", /single f/, "single-f"],
  ["trombone", /trigger|f.?attachment|attachment/, "trigger"],
  ["euphonium", /(4|four).?valve/, "four-valves"],
  ["euphonium-treble", /(4|four).?valve/, "four-valves"],
  ["tuba", /(4|four).?valve/, "four-valves"],
];

/** A misspelled word is believed up to so many letters wrong, a quarter of it at most. */
const LETTERS_WRONG = 2;

/**
 * The instruments that a cell of a list names, as people write them: several between commas, slashes, "and" or "+", with a
 * build, short or misspelled. Words that name none come back as they are.
 *
 * @example
 * ["Bells and snare", "flote"].map((cell) => instrumentsNamed(cell).found.map((each) => each.instrumentId)) // => [["bells", "snare"], ["flute"]]
 */
export function instrumentsNamed(cell: string): { found: NamedInstrument[]; unknown: string[] } {
  const found: NamedInstrument[] = [];
  const unknown: string[] = [];
  for (const piece of cell.split(/[,;/+&]|\band\b|\bor\b|\bund\b/i)) {
    const words = piece
      .trim()
      .toLowerCase()
      .replace(/\s+/g, " ")
      .replace(/\s+\d+$|^\d+(st|nd|rd|th)?\s+/, "");
    if (!words) continue;
    const named = oneNamed(words);
    if (named.length === 0) unknown.push(piece.trim());
    for (const each of named)
      if (!found.some(({ instrumentId }) => instrumentId === each.instrumentId)) found.push(each);
  }
  return { found, unknown };
}

function oneNamed(words: string): NamedInstrument[] {
  const sure = (instrumentId: string): NamedInstrument => ({
    instrumentId,
    variant: BUILDS.find(([of, said]) => of === instrumentId && said.test(words))?.[2] ?? null,
    guessed: false,
  });
  const byId = INSTRUMENTS.find(({ id, short }) => id === words || short === words);
  if (byId) return [sure(byId.id)];
  const said = SAID.find(([pattern]) => pattern.test(words));
  if (said) return said[1].map(sure);
  const half = HALVES.find(([pattern]) => pattern.test(words));
  if (half) return [{ ...sure(half[1]), guessed: true }];
  const named = instrumentNamed(words, /t\.?c\.?|treble/.test(words) ? -14 : 0);
  if (named) return [sure(named.id)];
  const near = nearest(words);
  return near ? [{ ...sure(near), guessed: true }] : [];
}

const NAMES: readonly [name: string, id: string][] = [
  ...INSTRUMENTS.map(({ id, name }): [string, string] => [name.toLowerCase(), id]),
  ...INSTRUMENTS.map(({ id, name }): [string, string] => [name.toLowerCase().replace(/^b♭ |^.*♭ /, ""), id]),
  ["saxophone", "sax-alto"],
  ["alto sax", "sax-alto"],
  ["alto saxophone", "sax-alto"],
  ["tenor saxophone", "sax-tenor"],
  ["french horn", "horn"],
  ["cornet", "trumpet"],
  ["glockenspiel", "bells"],
  ["bass clarinet", "clarinet-bass"],
];

function nearest(words: string): string | null {
  let best: { id: string; wrong: number } | null = null;
  for (const [name, id] of NAMES) {
    const wrong = editDistance(words, name, LETTERS_WRONG + 1);
    if (wrong <= LETTERS_WRONG && wrong * 4 <= name.length + 2 && (!best || wrong < best.wrong))
      best = { id, wrong };
  }
  return best?.id ?? null;
}
