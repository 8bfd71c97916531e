import { beatOfMetre, type Measure, type Score } from "../score";
import { countForms, formsOf, oneOfEachRing } from "./enumerate";
import {
  attacksOf,
  beatsIn,
  type Form,
  formId,
  gridsOf,
  isCompound,
  METRES,
  type Metre,
  slotsIn,
} from "./form";
import { gradeOf } from "./grade";
import { seededRandom, shuffled } from "./random";
import { barOf, headsOf } from "./spell";

/** What a page of counting asks for. */
export interface PageSettings {
  /** More than one makes bars of mixed metre. */
  metres: Metre[];
  slotsPerBeat: number;
  /** Attacks a bar, from and to; any number when null. */
  attacks: [number, number] | null;
  rests: boolean;
  ties: boolean;
  dots: boolean;
  /** Grades from and to; any when null. */
  grades: [number, number] | null;
  /** "complete" is every form there is, the easiest first; "random" is some of them, by seed. */
  choice: "complete" | "random";
  /** Bars that differ only in where the loop begins count once. */
  rings: boolean;
  bars: number;
  seed: number;
}

export const USUAL_PAGE: PageSettings = {
  metres: [{ beats: 4, beatType: 4 }],
  slotsPerBeat: 2,
  attacks: null,
  rests: false,
  ties: true,
  dots: true,
  grades: null,
  choice: "random",
  rings: false,
  bars: 12,
  seed: 1,
};

/** More bars than this are no page. */
export const MOST_BARS = 48;

export interface Page {
  /** Easiest first, no bar twice. */
  forms: Form[];
  /** Forms there are with these settings; null where they are too many to look at each. */
  available: number | null;
}

/** A page that cannot be made: one sentence, and the nearest settings that can. */
export class PageError extends RangeError {
  constructor(
    message: string,
    readonly offer: PageSettings,
  ) {
    super(message);
  }
}

/** Beyond this many forms a random page is drawn instead of chosen from all. */
const MOST_LOOKED_AT = 60_000;
const DRAWS = 40_000;

/**
 * A page of different bars, easiest first; the same settings and seed give the same page everywhere.
 * @throws PageError when there is no such page, with the nearest one there is
 */
export function makePage(settings: PageSettings): Page {
  check(settings);
  const all = countFor(settings);
  const random = seededRandom(settings.seed);
  const seen = all <= MOST_LOOKED_AT;
  const found = seen ? everyForm(settings) : drawn(settings, random);
  if (found.length === 0) throw nothingFits(settings);
  const wanted = settings.choice === "complete" ? found.length : settings.bars;
  if (settings.choice === "complete" && (wanted > MOST_BARS || !seen))
    throw new PageError(
      `${seen ? `There are ${found.length} such bars` : "There are too many such bars to look at each"}; a page holds ${MOST_BARS}. The nearest page is ${MOST_BARS} of them by chance.`,
      { ...settings, choice: "random", bars: MOST_BARS },
    );
  if (wanted > found.length)
    throw new PageError(
      `There ${found.length === 1 ? "is only 1 such bar" : `are only ${found.length} such bars`}, and no bar comes twice on a page. The nearest page has ${found.length}.`,
      { ...settings, bars: found.length },
    );
  const chosen = settings.choice === "complete" ? found : shuffled(found, random).slice(0, wanted);
  return { forms: easiestFirst(chosen), available: seen ? found.length : null };
}

export function easiestFirst(forms: readonly Form[]): Form[] {
  const graded = forms.map((form) => ({ form, grade: gradeOf(form).grade }));
  return graded
    .sort((a, b) => a.grade - b.grade || (formId(a.form) < formId(b.form) ? -1 : 1))
    .map(({ form }) => form);
}

function countAll({ attacks, rests, slotsPerBeat }: PageSettings, metre: Metre): number {
  if (!attacks) return countForms({ metre, slotsPerBeat, rests });
  let sum = 0;
  for (let k = attacks[0]; k <= attacks[1]; k++)
    sum += countForms({ metre, slotsPerBeat, rests, attacks: k });
  return sum;
}

/** Forms on the grid of a page, before ties, dots and grades. */
function countFor(settings: PageSettings): number {
  return settings.metres.reduce((sum, metre) => sum + countAll(settings, metre), 0);
}

function everyForm(settings: PageSettings): Form[] {
  const { metres, slotsPerBeat, rests, attacks } = settings;
  const counts = attacks
    ? Array.from({ length: attacks[1] - attacks[0] + 1 }, (_, i) => attacks[0] + i)
    : [undefined];
  const forms = metres.flatMap((metre) =>
    counts.flatMap((k) => [
      ...formsOf({ metre, slotsPerBeat, rests, ...(k === undefined ? {} : { attacks: k }) }),
    ]),
  );
  const fitting = forms.filter((form) => fits(form, settings));
  return settings.rings ? [...oneOfEachRing(fitting)] : fitting;
}

/** Bars by chance, each once, until there are plenty. */
function drawn(settings: PageSettings, random: () => number): Form[] {
  const found = new Map<string, Form>();
  for (let draw = 0; draw < DRAWS && found.size < 8 * settings.bars; draw++) {
    const metre = settings.metres[Math.floor(random() * settings.metres.length)]!;
    const form = drawForm(settings, metre, random);
    if (fits(form, settings)) found.set(formId(form), form);
  }
  const forms = [...found.values()];
  return settings.rings ? [...oneOfEachRing(forms)] : forms;
}

function drawForm({ slotsPerBeat, attacks, rests }: PageSettings, metre: Metre, random: () => number): Form {
  const slots = slotsIn({ metre, slotsPerBeat });
  const [least, most] = attacks ?? [1, slots];
  const number = least + Math.floor(random() * (Math.min(most, slots) - least + 1));
  const free = rests ? [...Array(slots).keys()] : [...Array(slots - 1).keys()].map((slot) => slot + 1);
  const struck = new Set(shuffled(free, random).slice(0, rests ? number : number - 1));
  if (!rests) struck.add(0);
  let silent = true;
  let cells = "";
  for (let slot = 0; slot < slots; slot++) {
    if (struck.has(slot)) silent = false;
    else if (rests && !silent && random() < 0.35) silent = true;
    cells += struck.has(slot) ? "x" : silent ? "." : "-";
  }
  return { metre, slotsPerBeat, cells };
}

/** Whether a form keeps to what a page asks beside its grid. */
function fits(form: Form, { attacks, ties, dots, grades }: PageSettings): boolean {
  const number = attacksOf(form).length;
  if (attacks && (number < attacks[0] || number > attacks[1])) return false;
  if (!ties || !dots) {
    const heads = headsOf(form);
    if (!ties && heads.some((head) => head.tied)) return false;
    if (!dots && !isCompound(form.metre) && heads.some((head) => head.dotted)) return false;
  }
  if (!grades) return true;
  const { grade } = gradeOf(form);
  return grade >= grades[0] && grade <= grades[1];
}

function check(settings: PageSettings): void {
  const { metres, slotsPerBeat, attacks, bars, grades } = settings;
  const first = metres[0];
  if (!first)
    throw new PageError("A page needs at least one metre, such as 4/4.", {
      ...settings,
      metres: [METRES[2]!],
    });
  const wrong = metres.find((metre) => !gridsOf(metre).includes(slotsPerBeat));
  if (wrong) {
    const grids = gridsOf(wrong);
    const nearest = grids.reduce((best, grid) =>
      Math.abs(grid - slotsPerBeat) < Math.abs(best - slotsPerBeat) ? grid : best,
    );
    const fitting = metres.filter((metre) => gridsOf(metre).includes(nearest));
    throw new PageError(
      `The beat of ${wrong.beats}/${wrong.beatType} is not divided into ${slotsPerBeat}; ${nearest} is the nearest division it has.`,
      { ...settings, slotsPerBeat: nearest, metres: fitting },
    );
  }
  if (!Number.isInteger(bars) || bars < 1 || bars > MOST_BARS)
    throw new PageError(`A page has 1 to ${MOST_BARS} bars, not ${bars}.`, {
      ...settings,
      bars: Math.min(MOST_BARS, Math.max(1, Math.round(bars) || 1)),
    });
  if (attacks) {
    const most = Math.max(...metres.map((metre) => slotsIn({ metre, slotsPerBeat })));
    const near: [number, number] = [
      Math.min(most, Math.max(1, attacks[0])),
      Math.min(most, Math.max(1, attacks[0], attacks[1])),
    ];
    if (near[0] !== attacks[0] || near[1] !== attacks[1])
      throw new PageError(
        `A bar of ${metres.map((metre) => `${metre.beats}/${metre.beatType}`).join(", ")} on this grid has ${most} places, so there is no form with ${attacks[0] === attacks[1] ? attacks[0] : `${attacks[0]} to ${attacks[1]}`} attacks; the nearest is ${near[0] === near[1] ? near[0] : `${near[0]} to ${near[1]}`}.`,
        { ...settings, attacks: near, bars: Math.min(bars, countFor({ ...settings, attacks: near })) },
      );
  }
  if (grades && grades[0] > grades[1])
    throw new PageError("The grades go from the easier to the harder.", {
      ...settings,
      grades: [grades[1], grades[0]],
    });
}

/** No form is left: ties and dots are allowed first, then every grade. */
function nothingFits(settings: PageSettings): PageError {
  const wider =
    !settings.ties || !settings.dots
      ? { ...settings, ties: true, dots: true }
      : { ...settings, grades: null };
  return new PageError(
    `No bar is like that${settings.grades ? ` between grade ${settings.grades[0]} and ${settings.grades[1]}` : ""}; ${wider.grades === null && settings.grades ? "without the limits of grade there are some" : "with ties and dots there are some"}.`,
    wider,
  );
}

/** What stands on a page besides its bars. */
export interface PageLook {
  title: string;
  bpm: number;
  /** How often a bar is played before the next one. */
  loops: number;
  /** Counting system shown under the notes; none when left out. */
  system?: string | null;
}

/**
 * A page as a score on one line: a bar a form, each repeated, the metre where it changes. Everybody claps it.
 * @param loops  1 to 8
 */
export function scoreOfForms(forms: readonly Form[], { title, bpm, loops, system }: PageLook): Score {
  let metre: Metre | null = null;
  const measures = forms.map((form, i): Measure => {
    const changes = !metre || metre.beats !== form.metre.beats || metre.beatType !== form.metre.beatType;
    metre = form.metre;
    return {
      ...barOf(form, i),
      ...(changes ? { time: form.metre } : {}),
      ...(i === 0 ? { tempo: { beatQuarters: beatOfMetre(form.metre), bpm } } : {}),
      ...(loops > 1 ? { repeatStart: true as const, repeatEnd: { times: loops } } : {}),
    };
  });
  return {
    title,
    purpose: { kind: "counting", forms: forms.map(formId), system: system ?? null },
    parts: [
      {
        id: "P1",
        name: "Clap",
        asWritten: true,
        clef: "percussion",
        soundsBy: { letters: 0, semitones: 0 },
        measures,
      },
    ],
  };
}

/** Seconds a page takes: a bar to count off, every bar so many times. */
export function pageSeconds(forms: readonly Form[], bpm: number, loops: number): number {
  const beats = forms.reduce((sum, form) => sum + loops * beatsIn(form.metre), 0);
  return ((beats + (forms[0] ? beatsIn(forms[0].metre) : 0)) * 60) / bpm;
}
